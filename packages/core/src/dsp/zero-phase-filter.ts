import { hann, type RealFft } from './fft.ts';

/** A magnitude as a real spectrum whose impulse is no longer than half a transform: it can be applied to overlapping pieces exactly. */
export function zeroPhaseSpectrum(fft: RealFft, magnitude: (bin: number) => number): Float64Array {
  const { size, bins } = fft;
  const re = Float64Array.from({ length: bins }, (_, k) => magnitude(k));
  const im = new Float64Array(bins);
  const impulse = new Float64Array(size);
  fft.inverse(re, im, impulse);
  const window = hann(size / 2); // its top at size / 4
  for (let i = 0; i < size; i++) {
    const distance = i < size / 2 ? i : size - i;
    impulse[i] *= distance < size / 4 ? window[size / 4 + distance] : 0;
  }
  fft.forward(impulse, re, im);
  return re;
}

/**
 * Linear-phase filtering of one channel by overlap-save: pieces of `size`, of which the middle half is whole. Output lags by three
 * quarters of `size`. A new spectrum fades in over one piece.
 */
export class ZeroPhaseFilter {
  readonly latencyFrames: number;
  private readonly hop: number;
  private readonly input: Float64Array;
  private readonly output: Float64Array;
  private readonly samples: Float64Array;
  private readonly other: Float64Array;
  private readonly re: Float64Array;
  private readonly im: Float64Array;
  private next: Float64Array | undefined;
  private filled = 0;

  constructor(
    private readonly fft: RealFft,
    private spectrum: Float64Array,
  ) {
    const { size, bins } = fft;
    this.hop = size / 2;
    this.latencyFrames = (3 * size) / 4;
    this.input = new Float64Array(size);
    this.output = new Float64Array(this.hop);
    this.samples = new Float64Array(size);
    this.other = new Float64Array(size);
    this.re = new Float64Array(bins);
    this.im = new Float64Array(bins);
  }

  change(spectrum: Float64Array): void {
    this.next = spectrum;
  }

  process(channel: Float32Array): void {
    const { hop, input, output } = this;
    for (let start = 0; start < channel.length; ) {
      const count = Math.min(hop - this.filled, channel.length - start);
      for (let i = 0; i < count; i++) {
        input[hop + this.filled + i] = channel[start + i];
        channel[start + i] = output[this.filled + i];
      }
      this.filled += count;
      start += count;
      if (this.filled === hop) this.endHop();
    }
  }

  private endHop(): void {
    const { hop, input, output, samples, other, fft } = this;
    this.filled = 0;
    this.filter(this.spectrum, samples);
    const from = hop / 2;
    if (this.next) {
      this.filter(this.next, other);
      for (let i = 0; i < hop; i++) {
        const share = 0.5 - 0.5 * Math.cos((Math.PI * (i + 1)) / hop);
        samples[from + i] += share * (other[from + i] - samples[from + i]);
      }
      this.spectrum = this.next;
      this.next = undefined;
    }
    for (let i = 0; i < hop; i++) output[i] = samples[from + i];
    input.copyWithin(0, hop, fft.size);
  }

  private filter(spectrum: Float64Array, out: Float64Array): void {
    const { fft, re, im } = this;
    fft.forward(this.input, re, im);
    for (let k = 0; k < spectrum.length; k++) {
      re[k] *= spectrum[k];
      im[k] *= spectrum[k];
    }
    fft.inverse(re, im, out);
  }
}
