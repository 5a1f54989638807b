/**
 * In-place complex FFT of a power-of-two size: split radix-2 passes over bit-reversed input with a table of twiddles
 * (Cooley and Tukey 1965), and a real transform of 2N samples through one complex transform of N.
 */
class ComplexFft {
  /** Twiddles of all stages one after the other, those of the stage with half size h at h - 1: read in order by every stage. */
  private readonly cos: Float64Array;
  private readonly sin: Float64Array;
  private readonly reversed: Uint32Array;

  constructor(readonly size: number) {
    this.cos = new Float64Array(size);
    this.sin = new Float64Array(size);
    for (let half = 1; half < size; half <<= 1) {
      for (let k = 0; k < half; k++) {
        this.cos[half - 1 + k] = Math.cos((Math.PI * k) / half);
        this.sin[half - 1 + k] = -Math.sin((Math.PI * k) / half);
      }
    }
    this.reversed = new Uint32Array(size);
    const bits = Math.log2(size);
    for (let i = 0; i < size; i++) {
      this.reversed[i] = (this.reversed[i >> 1] >> 1) | ((i & 1) << (bits - 1));
    }
  }

  transform(re: Float64Array, im: Float64Array): void {
    const { size, cos, sin, reversed } = this;
    for (let i = 0; i < size; i++) {
      const j = reversed[i];
      if (j > i) {
        const r = re[i];
        re[i] = re[j];
        re[j] = r;
        const m = im[i];
        im[i] = im[j];
        im[j] = m;
      }
    }
    for (let half = 1; half < size; half <<= 1) {
      const twiddle = half - 1;
      for (let start = 0; start < size; start += 2 * half) {
        for (let k = 0; k < half; k++) {
          const a = start + k;
          const b = a + half;
          const wr = cos[twiddle + k];
          const wi = sin[twiddle + k];
          const br = re[b];
          const bi = im[b];
          const ar = re[a];
          const ai = im[a];
          const tr = br * wr - bi * wi;
          const ti = br * wi + bi * wr;
          re[b] = ar - tr;
          im[b] = ai - ti;
          re[a] = ar + tr;
          im[a] = ai + ti;
        }
      }
    }
  }
}

/** Real FFT of `size` samples (a power of two, at least 4) to size / 2 + 1 bins, and back. */
export class RealFft {
  readonly bins: number;
  private readonly half: ComplexFft;
  private readonly zr: Float64Array;
  private readonly zi: Float64Array;
  private readonly cos: Float64Array;
  private readonly sin: Float64Array;

  constructor(readonly size: number) {
    const n = size / 2;
    this.bins = n + 1;
    this.half = new ComplexFft(n);
    this.zr = new Float64Array(n);
    this.zi = new Float64Array(n);
    this.cos = Float64Array.from({ length: n + 1 }, (_, k) => Math.cos((Math.PI * k) / n));
    this.sin = Float64Array.from({ length: n + 1 }, (_, k) => Math.sin((Math.PI * k) / n));
  }

  /** @param samples `size` values; @param re, @param im `bins` values each, X[k] = sum x[n] exp(-2 pi i k n / size) */
  forward(samples: Float64Array, re: Float64Array, im: Float64Array): void {
    const { zr, zi, cos, sin } = this;
    const n = this.size / 2;
    for (let i = 0; i < n; i++) {
      zr[i] = samples[2 * i];
      zi[i] = samples[2 * i + 1];
    }
    this.half.transform(zr, zi);
    for (let k = 0; k <= n; k++) {
      const a = k === n ? 0 : k;
      const b = k === 0 ? 0 : n - k;
      const evenRe = (zr[a] + zr[b]) / 2;
      const evenIm = (zi[a] - zi[b]) / 2;
      const oddRe = (zi[a] + zi[b]) / 2;
      const oddIm = (zr[b] - zr[a]) / 2;
      re[k] = evenRe + oddRe * cos[k] + oddIm * sin[k];
      im[k] = evenIm + oddIm * cos[k] - oddRe * sin[k];
    }
  }

  /** The inverse of `forward`, 1 / size included. Reads `bins` values, writes `size` samples. */
  inverse(re: Float64Array, im: Float64Array, samples: Float64Array): void {
    const { zr, zi, cos, sin } = this;
    const n = this.size / 2;
    for (let k = 0; k < n; k++) {
      const b = n - k;
      const evenRe = (re[k] + re[b]) / 2;
      const evenIm = (im[k] - im[b]) / 2;
      const diffRe = (re[k] - re[b]) / 2;
      const diffIm = (im[k] + im[b]) / 2;
      const oddRe = diffRe * cos[k] - diffIm * sin[k];
      const oddIm = diffRe * sin[k] + diffIm * cos[k];
      // conjugated, so that the forward transform serves as the inverse
      zr[k] = evenRe - oddIm;
      zi[k] = -(evenIm + oddRe);
    }
    this.half.transform(zr, zi);
    for (let i = 0; i < n; i++) {
      samples[2 * i] = zr[i] / n;
      samples[2 * i + 1] = -zi[i] / n;
    }
  }
}

/** Periodic Hann window. */
export const hann = (size: number): Float64Array =>
  Float64Array.from({ length: size }, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / size));
