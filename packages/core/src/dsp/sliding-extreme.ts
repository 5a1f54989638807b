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
}
