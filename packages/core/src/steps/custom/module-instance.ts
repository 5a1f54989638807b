import { type Block, framesOf, type SignalFormat } from '../../signal/signal.ts';
import { spanFrames } from './manifest.ts';
import { ModuleError } from './module-error.ts';
import { MODULE_LIMITS } from './module-file.ts';
import { watched } from './module-watch.ts';
import type { ProcessingModule } from './registry.ts';
import { type WasmMemory, webAssembly } from './web-assembly.ts';

/** What a module exports: see docs/modules.md. Numbers are f64 but for counts and addresses, which are i32. */
interface ModuleExports {
  memory: WasmMemory;
  prepare(sampleRateHz: number, channels: number, frames: number): number;
  input(channel: number): number;
  process(frames: number): void;
  set?(index: number, value: number): void;
  hear?(frames: number): void;
  conclude?(): void;
  finding?(index: number): number;
  find?(index: number, value: number): void;
}

/** Longer blocks are given piece by piece. */
const PIECE_FRAMES = 1024;
/** Starting and concluding count as work on so much sound. */
const SETTING_UP_SECONDS = 0.02;

/** A running module: one for each place in a chain. Whatever goes wrong in it is a ModuleError with its name. */
export class ModuleInstance {
  private readonly exports: ModuleExports;
  private readonly addresses: number[];
  private buffer: ArrayBuffer | undefined;
  private views: Float32Array[] = [];

  constructor(
    private readonly module: ProcessingModule,
    private readonly format: SignalFormat,
  ) {
    const { channels: may } = module.manifest;
    const { channels, sampleRateHz } = format;
    if (channels < may.minimum || channels > may.maximum)
      throw this.fault(
        'module-channels',
        `takes ${may.minimum === may.maximum ? may.minimum : `${may.minimum} to ${may.maximum}`} channels, and ${channels} arrive at it. Change the layout before it, or switch the step off.`,
      );
    this.exports = this.run(
      SETTING_UP_SECONDS,
      () => new webAssembly.Instance(module.compiled!, {}).exports as ModuleExports,
    );
    this.addresses = this.run(SETTING_UP_SECONDS, () => {
      if (this.exports.prepare(sampleRateHz, channels, PIECE_FRAMES) !== 0)
        throw this.fault('module-refuses', `does not work at ${sampleRateHz} Hz with ${channels} channels.`);
      return Array.from({ length: channels }, (_, c) => this.exports.input(c));
    });
    this.view();
  }

  get latencyFrames(): number {
    return spanFrames(this.module.manifest.latency, this.format.sampleRateHz);
  }

  get tailFrames(): number {
    return spanFrames(this.module.manifest.tail, this.format.sampleRateHz);
  }

  set(index: number, value: number): void {
    this.run(SETTING_UP_SECONDS, () => this.exports.set!(index, value));
  }

  /** What the study found, given to the instance that processes. */
  find(index: number, value: number): void {
    this.run(SETTING_UP_SECONDS, () => this.exports.find!(index, value));
  }

  process(block: Block): void {
    this.pieces(block, (frames) => this.exports.process(frames), true);
  }

  hear(block: Block): void {
    this.pieces(block, (frames) => this.exports.hear!(frames), false);
  }

  conclude(): number[] {
    return this.run(1, () => {
      this.exports.conclude!();
      return this.module.manifest.findings.map((_, i) => this.exports.finding!(i));
    });
  }

  private pieces(block: Block, work: (frames: number) => void, takesBack: boolean): void {
    for (let from = 0; from < framesOf(block); from += PIECE_FRAMES) {
      const frames = Math.min(PIECE_FRAMES, framesOf(block) - from);
      this.view();
      block.forEach((channel, c) => {
        this.views[c].set(channel.subarray(from, from + frames));
      });
      this.run(frames / this.format.sampleRateHz, () => work(frames));
      if (!takesBack) continue;
      this.view();
      block.forEach((channel, c) => {
        channel.set(frames === PIECE_FRAMES ? this.views[c] : this.views[c].subarray(0, frames), from);
      });
    }
  }

  /** Memory that has grown has another buffer. */
  private view(): void {
    const { buffer } = this.exports.memory;
    if (buffer === this.buffer) return;
    if (buffer.byteLength > MODULE_LIMITS.memoryBytes)
      throw this.fault('module-memory', 'took more than 64 MB of memory.');
    const isInside = (address: number) =>
      Number.isInteger(address) && address >= 0 && address % 4 === 0 && address + 4 * PIECE_FRAMES <= buffer.byteLength;
    if (!this.addresses.every(isInside))
      throw this.fault('module-memory', 'gives a place for samples that is not in its memory.');
    this.buffer = buffer;
    this.views = this.addresses.map((address) => new Float32Array(buffer, address, PIECE_FRAMES));
  }

  private run<T>(seconds: number, work: () => T): T {
    try {
      return watched(this.module.sha256, seconds, work);
    } catch (error) {
      if (error instanceof ModuleError) throw error;
      throw this.fault(
        'module-failed',
        `broke off: ${(error as Error)?.message ?? error}. Switch the step off, or ask who made it.`,
      );
    }
  }

  private fault(code: string, what: string): ModuleError {
    const { name, version } = this.module.manifest;
    return new ModuleError(code, `The module \u201c${name}\u201d ${version} ${what}`, { module: this.module.sha256 });
  }
}
