/** Seeded pseudo-random numbers (xorshift32, Marsaglia 2003): the same seed gives the same samples everywhere. */
export class Random {
  private state: number;

  constructor(seed: number) {
    this.state = (seed | 0) === 0 ? 0x9e3779b9 | 0 : seed | 0;
  }

  /** Uniform in [0, 1). */
  next(): number {
    let s = this.state;
    s ^= s << 13;
    s ^= s >>> 17;
    s ^= s << 5;
    this.state = s;
    return (s >>> 0) / 4294967296;
  }

  /** Normal with mean 0 and deviation 1 (sum of twelve uniforms). */
  normal(): number {
    let sum = -6;
    for (let i = 0; i < 12; i++) sum += this.next();
    return sum;
  }
}
