import { kernels, once, RealFft, roomFor } from '@tonos/kernels';

interface SpectrumPart {
  re: Float32Array;
  im: Float32Array;
}

/** Bins that are multiplied in one go. */
const CHUNK = 4096;

interface SpectrumAt {
  re: number;
  im: number;
}

const room = once(() => {
  const spectrum = (): SpectrumAt => ({ re: roomFor(CHUNK), im: roomFor(CHUNK) });
  return { kernel: kernels(), sums: spectrum(), a: spectrum(), b: spectrum() };
});

/** A response cut into equal parts, each as a spectrum. */
export type CutResponse = readonly SpectrumPart[];

/**
 * One channel through a long response: overlap-save with the response cut into parts of `hop` frames, whose spectra are multiplied with
 * those of as many hops of the past (uniformly partitioned convolution). Output lags by `hop`. A new response fades in over one hop.
 */
export class Convolver {
  readonly latencyFrames: number;
  private readonly fft: RealFft;
  private readonly input: Float32Array;
  private readonly output: Float32Array;
  private readonly samples: Float32Array;
  private readonly sum: SpectrumPart;
  /** Spectra of the last hops, the newest first; none for a hop of silence. */
  private past: (SpectrumPart | undefined)[] = [];
  private next: CutResponse | undefined;
  private filled = 0;

  constructor(
    private readonly hop: number,
    private response: CutResponse,
  ) {
    this.latencyFrames = hop;
    this.fft = new RealFft(2 * hop);
    this.input = new Float32Array(2 * hop);
    this.output = new Float32Array(hop);
    this.samples = new Float32Array(2 * hop);
    this.sum = emptySpectrum(this.fft.bins);
  }

  static cut(hop: number, response: Float32Array): CutResponse {
    const fft = new RealFft(2 * hop);
    return Array.from({ length: Math.ceil(response.length / hop) }, (_, part) => {
      const padded = new Float32Array(2 * hop);
      padded.set(response.subarray(part * hop, (part + 1) * hop));
      const spectrum = emptySpectrum(fft.bins);
      fft.forward(padded, spectrum.re, spectrum.im);
      return spectrum;
    });
  }

  change(response: CutResponse): void {
    this.next = response;
  }

  /** Writes what comes of `channel` to `wet`. */
  process(channel: Float32Array, wet: Float32Array): void {
    const { hop, input, output } = this;
    for (let start = 0; start < channel.length; ) {
      const count = Math.min(hop - this.filled, channel.length - start);
      input.set(channel.subarray(start, start + count), hop + this.filled);
      wet.set(output.subarray(this.filled, this.filled + count), start);
      this.filled += count;
      start += count;
      if (this.filled === hop) this.endHop();
    }
  }

  private endHop(): void {
    const { hop, input, output } = this;
    this.filled = 0;
    const most = Math.max(this.response.length, this.next?.length ?? 0);
    const oldest = this.past.length >= most ? this.past.pop() : undefined;
    this.past.unshift(input.some((x) => x !== 0) ? this.spectrumOfInput(oldest) : undefined);
    this.past.length = Math.min(this.past.length, most);
    this.convolve(this.response, output);
    if (this.next) {
      const other = new Float32Array(hop);
      this.convolve(this.next, other);
      for (let i = 0; i < hop; i++) output[i] += ((i + 1) / hop) * (other[i] - output[i]);
      this.response = this.next;
      this.next = undefined;
    }
    input.copyWithin(0, hop, 2 * hop);
  }

  /** @param spectrum one that is no longer needed */
  private spectrumOfInput(spectrum = emptySpectrum(this.fft.bins)): SpectrumPart {
    this.fft.forward(this.input, spectrum.re, spectrum.im);
    return spectrum;
  }

  private convolve(response: CutResponse, out: Float32Array): void {
    const { re, im } = this.sum;
    const sounding = response.flatMap((part, i) => {
      const heard = this.past[i];
      return heard ? [[heard, part] as const] : [];
    });
    if (!sounding.length) {
      out.fill(0);
      return;
    }
    for (let from = 0; from < re.length; from += CHUNK) sumOfProducts(sounding, from, re, im);
    this.fft.inverse(re, im, this.samples);
    out.set(this.samples.subarray(this.hop));
  }
}

const emptySpectrum = (bins: number): SpectrumPart => ({ re: new Float32Array(bins), im: new Float32Array(bins) });

/** Of the bins from `from` on, as many as are multiplied in one go. */
function sumOfProducts(
  pairs: readonly (readonly [SpectrumPart, SpectrumPart])[],
  from: number,
  re: Float32Array,
  im: Float32Array,
): void {
  const { kernel, sums, a, b } = room();
  const { f32 } = kernel;
  const end = Math.min(re.length, from + CHUNK);
  const put = (to: SpectrumAt, part: SpectrumPart) => {
    f32.set(part.re.subarray(from, end), to.re >> 2);
    f32.set(part.im.subarray(from, end), to.im >> 2);
  };
  for (const at of [sums.re, sums.im]) f32.fill(0, at >> 2, (at >> 2) + CHUNK);
  for (const [one, other] of pairs) {
    put(a, one);
    put(b, other);
    kernel.addProduct(sums.re, sums.im, a.re, a.im, b.re, b.im, end - from);
  }
  re.set(f32.subarray(sums.re >> 2, (sums.re >> 2) + end - from), from);
  im.set(f32.subarray(sums.im >> 2, (sums.im >> 2) + end - from), from);
}
