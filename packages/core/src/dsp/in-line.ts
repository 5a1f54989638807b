import { type Block, framesOf } from '../signal/signal.ts';

/** Takes latency off the start of a signal and lets out no more frames than went in. */
export class InLine {
  private owed = 0;

  constructor(private toDrop: number) {}

  get missing(): number {
    return this.owed;
  }

  get late(): number {
    return this.toDrop;
  }

  goesIn(frames: number): void {
    this.owed += frames;
  }

  comesOut(block: Block): Block {
    const frames = framesOf(block);
    const dropped = Math.min(this.toDrop, frames);
    this.toDrop -= dropped;
    const kept = Math.min(frames - dropped, this.owed);
    this.owed -= kept;
    return dropped || kept < frames ? block.map((channel) => channel.subarray(dropped, dropped + kept)) : block;
  }
}
