import { type Block, framesOf } from '../signal/signal.ts';

/** Delays every channel by a fixed number of frames, in place. */
export class DelayLine {
  private readonly rings: Float32Array[];
  private at = 0;

  constructor(
    channels: number,
    readonly frames: number,
  ) {
    this.rings = Array.from({ length: channels }, () => new Float32Array(frames));
  }

  process(block: Block): void {
    if (!this.frames) return;
    const length = framesOf(block);
    let at = this.at;
    for (let c = 0; c < block.length; c++) {
      const ring = this.rings[c];
      const channel = block[c];
      at = this.at;
      for (let i = 0; i < length; i++) {
        const out = ring[at];
        ring[at] = channel[i];
        channel[i] = out;
        if (++at === ring.length) at = 0;
      }
    }
    if (block.length) this.at = at;
  }
}
