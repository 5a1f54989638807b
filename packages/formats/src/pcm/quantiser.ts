import { Random } from '@tonos/core';

const DITHER_SEED = 0x70706;

/**
 * Samples to whole numbers of some bits, with triangular dither of one step each way (TPDF; Lipshitz, Wannamaker, Vanderkooy 1992).
 * Exact zeros stay zeros, so that silence stays silence.
 */
export class Quantiser {
  private readonly random = new Random(DITHER_SEED);
  private readonly scale: number;

  constructor(bits: 16 | 24) {
    this.scale = 2 ** (bits - 1);
  }

  next(sample: number): number {
    const { scale } = this;
    if (sample === 0) return 0;
    const value = Math.round(sample * scale + this.random.next() - this.random.next());
    return value >= scale ? scale - 1 : value < -scale ? -scale : value;
  }
}
