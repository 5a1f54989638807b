/**
 * Largest of the last `window` values, in constant time a value: a queue of falling values (Lemire 2006).
 * For the smallest, feed negated values.
 */
export class SlidingMaximum {
  private readonly values: Float64Array;
  private readonly positions: Float64Array;
  private head = 0;
  private length = 0;
  private position = 0;

  constructor(readonly window: number) {
    this.values = new Float64Array(window);
    this.positions = new Float64Array(window);
  }

  next(value: number): number {
    const { values, positions, window } = this;
    if (this.length && positions[this.head] <= this.position - window) {
      this.head = this.head + 1 === window ? 0 : this.head + 1;
      this.length--;
    }
    while (this.length && values[(this.head + this.length - 1) % window] <= value) this.length--;
    const tail = (this.head + this.length) % window;
    values[tail] = value;
    positions[tail] = this.position++;
    this.length++;
    return values[this.head];
  }
}
