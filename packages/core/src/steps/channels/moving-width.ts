import type { Block } from '../../signal/signal.ts';

const RAMP_SECONDS = 0.02;

/** L, R = M +- w S, where w goes to its new value within 20 ms when it is changed. */
export class MovingWidth {
  private readonly step: number;

  constructor(
    private width: number,
    sampleRateHz: number,
  ) {
    this.step = 2 / (RAMP_SECONDS * sampleRateHz);
  }

  /** @param wanted 0 is mono, 1 as it is */
  apply([left, right]: Block, wanted: number): Block {
    if (this.width === wanted && wanted === 1) return [left, right];
    const out = [new Float32Array(left.length), new Float32Array(left.length)];
    for (let i = 0; i < left.length; i++) {
      const rest = wanted - this.width;
      this.width = Math.abs(rest) <= this.step ? wanted : this.width + Math.sign(rest) * this.step;
      const middle = (left[i] + right[i]) / 2;
      const side = (this.width * (left[i] - right[i])) / 2;
      out[0][i] = middle + side;
      out[1][i] = middle - side;
    }
    return out;
  }
}
