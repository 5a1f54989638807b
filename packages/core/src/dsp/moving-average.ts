/**
 * Mean of the last `window` values. Values are held as whole multiples of 2^-40, so that adding and taking away leave
 * no remainder: a constant input comes out exactly, for ever. Values must stay below 4096 / window.
 */
const ONE = 2 ** 40;

export class MovingAverage {
  private readonly ring: Float64Array;
  private sum: number;
  private at = 0;

  constructor(
    readonly window: number,
    fill = 0,
  ) {
    this.ring = new Float64Array(window).fill(Math.floor(fill * ONE));
    this.sum = this.ring[0] * window;
  }

  next(value: number): number {
    const whole = Math.floor(value * ONE);
    this.sum += whole - this.ring[this.at];
    this.ring[this.at] = whole;
    if (++this.at === this.window) this.at = 0;
    return this.sum / (this.window * ONE);
  }
}
