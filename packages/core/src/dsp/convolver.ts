import { RealFft } from '@tonos/kernels';

interface SpectrumPart {
  re: Float32Array;
  im: Float32Array;
}

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
    re.fill(0);
    im.fill(0);
    const sounding = response.flatMap((part, i) => {
      const heard = this.past[i];
      return heard ? [[heard, part] as const] : [];
    });
    if (!sounding.length) {
      out.fill(0);
      return;
    }
    let at = 0;
    for (; at + 1 < sounding.length; at += 2) addProducts(re, im, ...sounding[at], ...sounding[at + 1]);
    if (at < sounding.length) addProduct(re, im, ...sounding[at]);
    this.fft.inverse(re, im, this.samples);
    out.set(this.samples.subarray(this.hop));
  }
}

const emptySpectrum = (bins: number): SpectrumPart => ({ re: new Float32Array(bins), im: new Float32Array(bins) });

function addProduct(re: Float32Array, im: Float32Array, a: SpectrumPart, b: SpectrumPart): void {
  const { re: ar, im: ai } = a;
  const { re: br, im: bi } = b;
  for (let k = 0; k < re.length; k++) {
    re[k] += ar[k] * br[k] - ai[k] * bi[k];
    im[k] += ar[k] * bi[k] + ai[k] * br[k];
  }
}

/** Two at once: the sums are read and written half as often, which is what takes the time. */
function addProducts(
  re: Float32Array,
  im: Float32Array,
  a: SpectrumPart,
  b: SpectrumPart,
  c: SpectrumPart,
  d: SpectrumPart,
): void {
  const { re: ar, im: ai } = a;
  const { re: br, im: bi } = b;
  const { re: cr, im: ci } = c;
  const { re: dr, im: di } = d;
  for (let k = 0; k < re.length; k++) {
    const p = ar[k];
    const q = ai[k];
    const r = cr[k];
    const s = ci[k];
    re[k] += p * br[k] - q * bi[k] + r * dr[k] - s * di[k];
    im[k] += p * bi[k] + q * br[k] + r * di[k] + s * dr[k];
  }
}
