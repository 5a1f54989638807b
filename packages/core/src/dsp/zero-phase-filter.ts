import { hann, type RealFft } from '@tonos/kernels';

/** A magnitude as a real spectrum whose impulse is no longer than half a transform: it can be applied to overlapping pieces exactly. */
export function zeroPhaseSpectrum(fft: RealFft, magnitude: (bin: number) => number): Float32Array {
  const { size, bins } = fft;
  const re = Float32Array.from({ length: bins }, (_, k) => magnitude(k));
  const im = new Float32Array(bins);
  const impulse = new Float32Array(size);
  fft.inverse(re, im, impulse);
  const window = hann(size / 2); // its top at size / 4
  for (let i = 0; i < size; i++) {
    const distance = i < size / 2 ? i : size - i;
    impulse[i] *= distance < size / 4 ? window[size / 4 + distance] : 0;
  }
  fft.forward(impulse, re, im);
  return re;
}

/** The real spectrum of a symmetrical filter of an odd number of taps, its middle at time 0; at most half a transform of them. */
export function spectrumOfTaps(fft: RealFft, taps: Float64Array): Float32Array {
  const { size, bins } = fft;
  const impulse = new Float32Array(size);
  const half = (taps.length - 1) / 2;
  taps.forEach((tap, k) => {
    impulse[(k - half + size) % size] = tap;
  });
  const re = new Float32Array(bins);
  fft.forward(impulse, re, new Float32Array(bins));
  return re;
}

/**
 * Linear-phase filtering of one channel by overlap-save: pieces of `size`, of which the middle half is whole. Output lags by three
 * quarters of `size`. A new spectrum fades in over one piece.
 */
export class ZeroPhaseFilter {
  readonly latencyFrames: number;
  private readonly hop: number;
  private readonly input: Float32Array;
  private readonly output: Float32Array;
  private readonly samples: Float32Array;
  private readonly other: Float32Array;
  private next: Float32Array | undefined;
  private filled = 0;

  constructor(
    private readonly fft: RealFft,
    private spectrum: Float32Array,
  ) {
    const { size } = fft;
    this.hop = size / 2;
    this.latencyFrames = (3 * size) / 4;
    this.input = new Float32Array(size);
    this.output = new Float32Array(this.hop);
    this.samples = new Float32Array(size);
    this.other = new Float32Array(size);
  }

  change(spectrum: Float32Array): void {
    this.next = spectrum;
  }

  process(channel: Float32Array): void {
    const { hop, input, output } = this;
    for (let start = 0; start < channel.length; ) {
      const count = Math.min(hop - this.filled, channel.length - start);
      input.set(channel.subarray(start, start + count), hop + this.filled);
      channel.set(output.subarray(this.filled, this.filled + count), start);
      this.filled += count;
      start += count;
      if (this.filled === hop) this.endHop();
    }
  }

  private endHop(): void {
    const { hop, input, output, samples, other, fft } = this;
    this.filled = 0;
    fft.shape(input, this.spectrum, samples);
    const from = hop / 2;
    if (this.next) {
      fft.shape(input, this.next, other);
      for (let i = 0; i < hop; i++) {
        const share = 0.5 - 0.5 * Math.cos((Math.PI * (i + 1)) / hop);
        samples[from + i] += share * (other[from + i] - samples[from + i]);
      }
      this.spectrum = this.next;
      this.next = undefined;
    }
    output.set(samples.subarray(from, from + hop));
    input.copyWithin(0, hop, fft.size);
  }
}
