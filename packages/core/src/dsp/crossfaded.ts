import { type Block, copyBlock, framesOf, type SignalFormat } from '../signal/signal.ts';
import { noTrace, type Processor } from './processor.ts';

interface Engine {
  process(block: Block): void;
}

const FADE_MS = 20;

/**
 * Changes the settings of a filter without a click: the old and the new engine run side by side through a raised-cosine
 * fade. A change that arrives during a fade waits for its end; only the last one counts.
 */
export class Crossfaded<Settings> implements Processor<Settings> {
  readonly latencyFrames = 0;
  readonly takeTrace = noTrace;
  private current: Engine;
  private next: Engine | undefined;
  private waiting: Settings | undefined;
  private fadedFrames = 0;
  private readonly fadeFrames: number;

  constructor(
    private settings: Settings,
    format: SignalFormat,
    private readonly build: (settings: Settings) => Engine,
  ) {
    this.fadeFrames = Math.round((FADE_MS / 1000) * format.sampleRateHz);
    this.current = build(settings);
  }

  update(settings: Settings): void {
    if (JSON.stringify(settings) === JSON.stringify(this.settings)) return;
    this.settings = settings;
    if (this.next) this.waiting = settings;
    else this.begin(settings);
  }

  process(block: Block): void {
    let start = 0;
    const frames = framesOf(block);
    while (this.next && start < frames) {
      const end = Math.min(frames, start + this.fadeFrames - this.fadedFrames);
      this.fade(block.map((channel) => channel.subarray(start, end)));
      start = end;
    }
    if (start < frames) this.current.process(start ? block.map((channel) => channel.subarray(start)) : block);
  }

  private begin(settings: Settings): void {
    this.next = this.build(settings);
    this.fadedFrames = 0;
  }

  private fade(block: Block): void {
    const fresh = copyBlock(block);
    this.current.process(block);
    this.next!.process(fresh);
    const frames = framesOf(block);
    for (let c = 0; c < block.length; c++) {
      for (let i = 0; i < frames; i++) {
        const share = 0.5 - 0.5 * Math.cos((Math.PI * (this.fadedFrames + i + 1)) / this.fadeFrames);
        block[c][i] += share * (fresh[c][i] - block[c][i]);
      }
    }
    this.fadedFrames += frames;
    if (this.fadedFrames < this.fadeFrames) return;
    this.current = this.next!;
    this.next = undefined;
    if (this.waiting !== undefined) {
      const settings = this.waiting;
      this.waiting = undefined;
      this.begin(settings);
    }
  }
}
