import { kernels, once, roomFor } from '@tonos/kernels';

/**
 * Mean of the last `window` values. Values are held as whole multiples of 2^-40, so that adding and taking away leave
 * no remainder: a constant input comes out exactly, for ever. Values must stay below 4096 / `window`.
 */
const ONE = 2 ** 40;
const MOST = 4096;
/** Windows that whole blocks can be read over. */
const MOST_WINDOW = 8192;

const room = once(() => ({ ring: roomFor(2 * MOST_WINDOW), state: roomFor(4) }));

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

  /** As `next`, for each of many values in place, lying where kernels read them; those that are too large count as the largest there may be. */
  readAt(at: number, count: number): void {
    const { f64, averages } = kernels();
    const { ring, state } = room();
    f64.set(this.ring, ring >> 3);
    f64[state >> 3] = this.sum;
    f64[(state >> 3) + 1] = this.at;
    averages(at, count, MOST / this.window, ring, this.window, ONE, state);
    this.ring.set(f64.subarray(ring >> 3, (ring >> 3) + this.window));
    this.sum = f64[state >> 3];
    this.at = f64[(state >> 3) + 1];
  }
}
