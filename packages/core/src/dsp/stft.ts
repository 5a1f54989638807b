import { RealFft } from './fft.ts';

/** Short-time spectra of one channel: square-root Hann windows overlapping by three quarters, which add up to one. */
export class Stft {
  readonly hop: number;
  readonly bins: number;
  private readonly fft: RealFft;
  private readonly window: Float64Array;
  private readonly input: Float64Array;
  private readonly output: Float64Array;
  private readonly samples: Float64Array;
  private readonly re: Float64Array;
  private readonly im: Float64Array;
  private filled = 0;

  constructor(readonly size: number) {
    this.hop = size / 4;
    this.fft = new RealFft(size);
    this.bins = this.fft.bins;
    // four Hann windows at a quarter's distance add up to 2
    this.window = Float64Array.from({ length: size }, (_, i) => Math.sin((Math.PI * i) / size) / Math.SQRT2);
    this.input = new Float64Array(size);
    this.output = new Float64Array(size);
    this.samples = new Float64Array(size);
    this.re = new Float64Array(this.bins);
    this.im = new Float64Array(this.bins);
  }

  /** Calls `change` with each spectrum, to be changed in place; output lags input by `size` frames. */
  process(channel: Float32Array, change: (re: Float64Array, im: Float64Array) => void): void {
    this.run(channel, (re, im) => {
      change(re, im);
      this.fft.inverse(re, im, this.samples);
      for (let i = 0; i < this.size; i++) this.output[i] += this.samples[i] * this.window[i];
    });
  }

  /** Calls `read` with each spectrum; the channel stays as it is. */
  listen(channel: Float32Array, read: (re: Float64Array, im: Float64Array) => void): void {
    this.run(channel.slice(), read);
  }

  private run(channel: Float32Array, each: (re: Float64Array, im: Float64Array) => void): void {
    const { size, hop, input, output, window, samples } = this;
    let start = 0;
    while (start < channel.length) {
      const count = Math.min(hop - this.filled, channel.length - start);
      for (let i = 0; i < count; i++) {
        input[size - hop + this.filled + i] = channel[start + i];
        channel[start + i] = output[this.filled + i];
      }
      this.filled += count;
      start += count;
      if (this.filled < hop) continue;
      this.filled = 0;
      output.copyWithin(0, hop);
      output.fill(0, size - hop);
      for (let i = 0; i < size; i++) samples[i] = input[i] * window[i];
      this.fft.forward(samples, this.re, this.im);
      each(this.re, this.im);
      input.copyWithin(0, hop);
    }
  }
}
