import { RealFft, type Spectrum } from '@tonos/kernels';

/** Short-time spectra of one channel: square-root Hann windows overlapping by three quarters, which add up to one. */
export class Stft {
  readonly hop: number;
  readonly bins: number;
  private readonly fft: RealFft;
  private readonly input: Float32Array;
  private readonly output: Float32Array;
  private filled = 0;

  constructor(readonly size: number) {
    this.hop = size / 4;
    this.fft = new RealFft(size);
    this.bins = this.fft.bins;
    this.input = new Float32Array(size);
    this.output = new Float32Array(size);
  }

  /** Calls `change` with each spectrum, to be changed in place by kernels; output lags input by `size` frames. */
  process(channel: Float32Array, change: (spectrum: Spectrum) => void): void {
    const { size, hop, input, output } = this;
    for (let start = 0; start < channel.length; ) {
      const count = Math.min(hop - this.filled, channel.length - start);
      input.set(channel.subarray(start, start + count), size - hop + this.filled);
      channel.set(output.subarray(this.filled, this.filled + count), start);
      this.filled += count;
      start += count;
      if (this.filled < hop) continue;
      this.filled = 0;
      output.copyWithin(0, hop);
      output.fill(0, size - hop);
      change(this.fft.spectrumOf(input, 'root-hann'));
      this.fft.addInverse(output, 'root-hann');
      input.copyWithin(0, hop);
    }
  }
}
