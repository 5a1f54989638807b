/** Bits, the highest first, into bytes. */
export class BitWriter {
  private bytes: Uint8Array;
  private length = 0;
  private held = 0;
  private count = 0;

  constructor(size: number) {
    this.bytes = new Uint8Array(size);
  }

  /** @param bits up to 24; @param value not negative */
  write(value: number, bits: number): void {
    this.held = (this.held << bits) | value;
    this.count += bits;
    while (this.count >= 8) {
      this.count -= 8;
      this.push((this.held >>> this.count) & 0xff);
    }
    this.held &= (1 << this.count) - 1;
  }

  /** A number in two's complement, up to 32 bits. */
  writeSigned(value: number, bits: number): void {
    if (bits > 16) {
      this.write((value >> 16) & (2 ** (bits - 16) - 1), bits - 16);
      this.write(value & 0xffff, 16);
    } else this.write(value & (2 ** bits - 1), bits);
  }

  /** So many zeros, then a one. */
  writeUnary(value: number): void {
    let left = value;
    for (; left >= 16; left -= 16) this.write(0, 16);
    this.write(1, left + 1);
  }

  /** Zeros up to the next whole byte. */
  align(): void {
    if (this.count) this.write(0, 8 - this.count);
  }

  /** What was written by now; whole bytes. */
  get written(): Uint8Array {
    return this.bytes.subarray(0, this.length);
  }

  private push(byte: number): void {
    if (this.length === this.bytes.length) {
      const grown = new Uint8Array(2 * this.length);
      grown.set(this.bytes);
      this.bytes = grown;
    }
    this.bytes[this.length++] = byte;
  }
}
