import { RealFft } from '@tonos/kernels';

/** Short-time spectra of one channel: square-root Hann windows overlapping by three quarters, which add up to one. */
export class Stft {
  readonly hop: number;
  readonly bins: number;
  private readonly fft: RealFft;
  private readonly input: Float32Array;
  private readonly output: Float32Array;
  private readonly re: Float32Array;
  private readonly im: Float32Array;
  private filled = 0;

  constructor(readonly size: number) {
    this.hop = size / 4;
    this.fft = new RealFft(size);
    this.bins = this.fft.bins;
    this.input = new Float32Array(size);
    this.output = new Float32Array(size);
    this.re = new Float32Array(this.bins);
    this.im = new Float32Array(this.bins);
  }

  /** Calls `change` with each spectrum, to be changed in place; output lags input by `size` frames. */
  process(channel: Float32Array, change: (re: Float32Array, im: Float32Array) => void): void {
    this.run(channel, (re, im) => {
      change(re, im);
      this.fft.inverseOnto(re, im, this.output, 'root-hann');
    });
  }

  /** Calls `read` with each spectrum; the channel stays as it is. */
  listen(channel: Float32Array, read: (re: Float32Array, im: Float32Array) => void): void {
    this.run(channel.slice(), read);
  }

  private run(channel: Float32Array, each: (re: Float32Array, im: Float32Array) => void): void {
    const { size, hop, input, output } = this;
    let start = 0;
    while (start < channel.length) {
      const count = Math.min(hop - this.filled, channel.length - start);
      input.set(channel.subarray(start, start + count), size - hop + this.filled);
      channel.set(output.subarray(this.filled, this.filled + count), start);
      this.filled += count;
      start += count;
      if (this.filled < hop) continue;
      this.filled = 0;
      output.copyWithin(0, hop);
      output.fill(0, size - hop);
      this.fft.forward(input, this.re, this.im, 'root-hann');
      each(this.re, this.im);
      input.copyWithin(0, hop);
    }
  }
}
