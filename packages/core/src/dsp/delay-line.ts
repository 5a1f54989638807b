import { type Block, framesOf } from '../signal/signal.ts';

/** Delays every channel by a fixed number of frames, in place. */
export class DelayLine {
  private readonly rings: Float32Array[];
  private readonly scratch: Float32Array;
  private at = 0;

  constructor(
    channels: number,
    readonly frames: number,
  ) {
    this.rings = Array.from({ length: channels }, () => new Float32Array(frames));
    this.scratch = new Float32Array(frames);
  }

  process(block: Block): void {
    if (!this.frames) return;
    const length = framesOf(block);
    for (let start = 0; start < length; ) {
      const count = Math.min(this.frames - this.at, length - start);
      block.forEach((channel, c) => {
        const waiting = this.rings[c].subarray(this.at, this.at + count);
        const piece = channel.subarray(start, start + count);
        this.scratch.set(piece);
        piece.set(waiting);
        waiting.set(this.scratch.subarray(0, count));
      });
      this.at = (this.at + count) % this.frames;
      start += count;
    }
  }
}
