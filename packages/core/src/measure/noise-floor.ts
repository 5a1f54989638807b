import { held, kernels, MOST_FRAMES } from '@tonos/kernels';
import { cut } from '../signal/memory.ts';
import { type Block, framesOf, type SignalFormat } from '../signal/signal.ts';
import { subBlockStart } from './sub-blocks.ts';

const PER_SECOND = 100; // windows move by 10 ms
const WINDOW = 50; // 500 ms
const LEAST_RUN_SECONDS = 0.01;
const LEAST_COUNTED_SECONDS = 0.1;

/**
 * The quietest 500 ms, and digital silence. A run of frames in which all channels are exactly zero counts for the floor from
 * 10 ms on, and as digital silence from 100 ms on; windows with more than 10 ms of such runs are left out.
 */
export class NoiseFloorMeter {
  private readonly kernel = kernels();
  private readonly energies = new Float64Array(WINDOW);
  /** Frames of digital silence in each sub-block of the window. */
  private readonly silences = new Float64Array(WINDOW);
  private energy = 0;
  private frame = 0;
  private subBlock = 0;
  private subBlockEnd: number;
  private zeroRun = 0;
  private silentFrames = 0;
  private quietest = Number.POSITIVE_INFINITY;
  private readonly leastRun: number;

  constructor(private readonly format: SignalFormat) {
    this.subBlockEnd = subBlockStart(1, format.sampleRateHz, PER_SECOND);
    this.leastRun = LEAST_RUN_SECONDS * format.sampleRateHz;
  }

  hear(block: Block): void {
    for (const piece of cut(block, MOST_FRAMES)) this.hearPiece(piece);
  }

  private hearPiece(block: Block): void {
    const frames = framesOf(block);
    const places = block.map((channel, c) => held(channel, c));
    let start = 0;
    while (start < frames) {
      const end = Math.min(frames, start + this.subBlockEnd - this.frame);
      this.hearStretch(places, start, end);
      this.frame += end - start;
      start = end;
      if (this.frame === this.subBlockEnd) this.endSubBlock();
    }
  }

  conclude(): { floorPower: number | null; digitalSilenceSeconds: number } {
    const { sampleRateHz } = this.format;
    const floorPower = Number.isFinite(this.quietest) ? this.quietest : null;
    // a run that has not ended yet counts as far as it has come
    const lastRun = this.zeroRun >= LEAST_COUNTED_SECONDS * sampleRateHz ? this.zeroRun : 0;
    return { floorPower, digitalSilenceSeconds: (this.silentFrames + lastRun) / sampleRateHz };
  }

  /** A run that touches neither end of a stretch is shorter than one that counts. */
  private hearStretch(places: readonly number[], start: number, end: number): void {
    const { kernel } = this;
    const frames = end - start;
    let [lead, tail] = [frames, frames];
    for (const place of places) {
      const at = place + 4 * start;
      this.energy += kernel.energy(at, frames);
      lead = Math.min(lead, kernel.zerosFromStart(at, frames));
      tail = Math.min(tail, kernel.zerosToEnd(at, frames));
    }
    this.zeroRun += lead;
    if (lead === frames) return;
    if (this.zeroRun) this.endZeroRun(this.frame + lead);
    this.zeroRun = tail;
  }

  /** A run that ends at frame `end` is noted in every sub-block of the window that it touches. */
  private endZeroRun(end: number): void {
    const run = this.zeroRun;
    this.zeroRun = 0;
    if (run >= LEAST_COUNTED_SECONDS * this.format.sampleRateHz) this.silentFrames += run;
    if (run >= this.leastRun) this.noteSilence(end - run, end);
  }

  private noteSilence(from: number, to: number): void {
    const rate = this.format.sampleRateHz;
    for (let k = this.subBlock; k >= Math.max(0, this.subBlock - WINDOW + 1); k--) {
      const overlap =
        Math.min(to, subBlockStart(k + 1, rate, PER_SECOND)) - Math.max(from, subBlockStart(k, rate, PER_SECOND));
      if (overlap > 0) this.silences[k % WINDOW] += overlap;
    }
  }

  private endSubBlock(): void {
    const rate = this.format.sampleRateHz;
    this.energies[this.subBlock % WINDOW] = this.energy;
    this.energy = 0;
    if (this.subBlock + 1 >= WINDOW) this.judgeWindow();
    this.subBlock++;
    this.subBlockEnd = subBlockStart(this.subBlock + 1, rate, PER_SECOND);
    this.silences[this.subBlock % WINDOW] = 0;
  }

  private judgeWindow(): void {
    const rate = this.format.sampleRateHz;
    // a run still going on is silence as soon as it is long enough
    const going = this.zeroRun >= this.leastRun ? Math.min(this.zeroRun, 0.5 * rate) : 0;
    const frames =
      subBlockStart(this.subBlock + 1, rate, PER_SECOND) - subBlockStart(this.subBlock + 1 - WINDOW, rate, PER_SECOND);
    const samples = frames * this.format.channels;
    const most = this.quietest * samples;
    let silent = going;
    let energy = 0;
    for (let k = 0; k < WINDOW; k++) {
      silent += this.silences[k];
      energy += this.energies[k];
      // most windows are louder than the quietest by far
      if (energy > most) return;
    }
    if (silent > this.leastRun || energy === 0) return;
    const power = energy / samples;
    if (power < this.quietest) this.quietest = power;
  }
}
