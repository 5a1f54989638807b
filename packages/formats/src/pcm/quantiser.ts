import { type Block, cut } from '@tonos/core';
import { held, kernels, MOST_FRAMES, once, roomFor } from '@tonos/kernels';

const DITHER_SEED = 0x70706;

const room = once(() => ({ values: roomFor(MOST_FRAMES) }));

/**
 * Samples to whole numbers of some bits, with triangular dither of one step each way (TPDF; Lipshitz, Wannamaker, Vanderkooy 1992).
 * Exact zeros stay zeros, so that silence stays silence. Each channel has noise of its own.
 */
export class Quantiser {
  private readonly scale: number;
  /** Frames of each channel so far. */
  private readonly done: number[];

  constructor(bits: 16 | 24, channels: number) {
    this.scale = 2 ** (bits - 1);
    this.done = new Array(channels).fill(0);
  }

  /** The numbers of each channel. */
  next(block: Block): Int32Array[] {
    const out = block.map((channel) => new Int32Array(channel.length));
    let start = 0;
    for (const piece of cut(block, MOST_FRAMES)) {
      piece.forEach((samples, c) => {
        const values = this.dithered(samples, c) >> 2;
        out[c].set(kernels().i32.subarray(values, values + samples.length), start);
      });
      start += piece[0].length;
    }
    return out;
  }

  /** Where the numbers of at most MOST_FRAMES samples of a channel lie for the next kernel. */
  dithered(samples: Float32Array, channel: number): number {
    const { values } = room();
    const seed = DITHER_SEED + channel * 0x9e37;
    kernels().dithered(held(samples), samples.length, this.scale, seed, this.done[channel] | 0, values);
    this.done[channel] += samples.length;
    return values;
  }
}
