import { kernels, once, roomFor } from '@tonos/kernels';

/** Rings that whole blocks can be read over. */
const MOST_RING = 8192;

const room = once(() => ({ values: roomFor(2 * MOST_RING), places: roomFor(2 * MOST_RING), state: roomFor(6) }));

/**
 * Largest of the last `window` values, in constant time a value: a queue of falling values (Lemire 2006).
 * For the smallest, feed negated values.
 */
export class SlidingMaximum {
  /** A power of two long, so that places wrap by a mask. */
  private readonly values: Float64Array;
  private readonly positions: Float64Array;
  private readonly mask: number;
  private head = 0;
  private length = 0;
  private position = 0;

  constructor(readonly window: number) {
    const size = 2 ** Math.ceil(Math.log2(window + 1));
    this.mask = size - 1;
    this.values = new Float64Array(size);
    this.positions = new Float64Array(size);
  }

  next(value: number): number {
    const { values, positions, window, mask } = this;
    if (this.length && positions[this.head] <= this.position - window) {
      this.head = (this.head + 1) & mask;
      this.length--;
    }
    while (this.length && values[(this.head + this.length - 1) & mask] <= value) this.length--;
    const tail = (this.head + this.length) & mask;
    values[tail] = value;
    positions[tail] = this.position++;
    this.length++;
    return values[this.head];
  }

  /** As `next`, for each of many values in place, which lie where kernels read them. The window is at most 8191 long. */
  readAt(at: number, count: number): void {
    const { f64, slidingMaxima } = kernels();
    const { values, places, state } = room();
    const size = this.mask + 1;
    f64.set(this.values, values >> 3);
    f64.set(this.positions, places >> 3);
    f64[state >> 3] = this.head;
    f64[(state >> 3) + 1] = this.length;
    f64[(state >> 3) + 2] = this.position;
    slidingMaxima(at, count, this.window, values, places, this.mask, state);
    this.values.set(f64.subarray(values >> 3, (values >> 3) + size));
    this.positions.set(f64.subarray(places >> 3, (places >> 3) + size));
    this.head = f64[state >> 3];
    this.length = f64[(state >> 3) + 1];
    this.position = f64[(state >> 3) + 2];
  }
}
