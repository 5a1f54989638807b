import { type Block, framesOf } from '../signal/signal.ts';

/** Delays every channel by a fixed number of frames, in place. */
export class DelayLine {
  /** What is inside, the oldest first. */
  private readonly waiting: Float32Array[];
  private readonly scratch: Float32Array;

  constructor(
    channels: number,
    readonly frames: number,
  ) {
    this.waiting = Array.from({ length: channels }, () => new Float32Array(frames));
    this.scratch = new Float32Array(frames);
  }

  process(block: Block): void {
    const { frames } = this;
    const length = framesOf(block);
    if (!frames || !length) return;
    const moved = Math.min(frames, length);
    block.forEach((channel, c) => {
      const waiting = this.waiting[c];
      const fresh = this.scratch.subarray(0, moved);
      fresh.set(channel.subarray(length - moved));
      channel.copyWithin(moved, 0, length - moved);
      channel.set(waiting.subarray(0, moved));
      waiting.copyWithin(0, moved);
      waiting.set(fresh, frames - moved);
    });
  }
}
