import { NETWORK_DELAY, NETWORK_FRAMES, Rnnoise } from './rnnoise.ts';

/** The network over one channel at 48 kHz, for pieces of any length. */
export class NetworkChannel {
  /** Input that must follow a frame before its answer is sure to be there: its stretch's end, and the network's own delay. */
  static readonly REACH_FRAMES = NETWORK_FRAMES + NETWORK_DELAY;

  private readonly network = new Rnnoise();
  private readonly stretch = new Float32Array(NETWORK_FRAMES);
  private filled = 0;
  /** The first answer is to the silence before the input. */
  private isFirst = true;

  /** Takes samples and gives what is cleaned by now: frame n of all output belongs to frame n of all input. */
  next(samples: Float32Array): Float32Array {
    const stretches = Math.floor((this.filled + samples.length) / NETWORK_FRAMES);
    const out = new Float32Array(Math.max(0, stretches - (this.isFirst ? 1 : 0)) * NETWORK_FRAMES);
    let made = 0;
    for (let start = 0; start < samples.length; ) {
      const count = Math.min(samples.length - start, NETWORK_FRAMES - this.filled);
      this.stretch.set(samples.subarray(start, start + count), this.filled);
      this.filled += count;
      start += count;
      if (this.filled < NETWORK_FRAMES) continue;
      this.filled = 0;
      this.network.process(this.stretch);
      if (!this.isFirst) {
        out.set(this.stretch, made);
        made += NETWORK_FRAMES;
      }
      this.isFirst = false;
    }
    return out;
  }
}
