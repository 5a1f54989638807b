/**
 * In-place complex FFT of a power-of-two size: passes over bit-reversed input with a table of twiddles (Cooley and
 * Tukey 1965), two stages a pass, and a real transform of 2N samples through one complex transform of N.
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
    if (size < 4) {
      lastStage(re, im, size, cos, sin);
      return;
    }
    firstTwoStages(re, im, size);
    let half = 4;
    for (; 2 * half < size; half <<= 2) twoStages(re, im, size, half, cos, sin);
    // an odd number of stages leaves one alone
    if (half < size) lastStage(re, im, size, cos, sin);
  }
}

function lastStage(re: Float64Array, im: Float64Array, size: number, cos: Float64Array, sin: Float64Array): void {
  const half = size / 2;
  for (let a = 0; a < half; a++) {
    const b = a + half;
    const cr = cos[half - 1 + a];
    const ci = sin[half - 1 + a];
    const br = re[b] * cr - im[b] * ci;
    const bi = re[b] * ci + im[b] * cr;
    re[b] = re[a] - br;
    im[b] = im[a] - bi;
    re[a] += br;
    im[a] += bi;
  }
}

/** The first two stages turn by 0 and -90 degrees only: no multiplication. */
function firstTwoStages(re: Float64Array, im: Float64Array, size: number): void {
  for (let a = 0; a < size; a += 4) {
    const evenR = re[a] + re[a + 1];
    const evenI = im[a] + im[a + 1];
    const oddR = re[a] - re[a + 1];
    const oddI = im[a] - im[a + 1];
    const sumR = re[a + 2] + re[a + 3];
    const sumI = im[a + 2] + im[a + 3];
    const restR = re[a + 2] - re[a + 3];
    const restI = im[a + 2] - im[a + 3];
    re[a] = evenR + sumR;
    im[a] = evenI + sumI;
    re[a + 2] = evenR - sumR;
    im[a + 2] = evenI - sumI;
    re[a + 1] = oddR + restI;
    im[a + 1] = oddI - restR;
    re[a + 3] = oddR - restI;
    im[a + 3] = oddI + restR;
  }
}

/**
 * The stages of half sizes `half` and 2 `half` in one go: each value is loaded and stored once instead of twice. The second
 * twiddle of the odd pair is that of the even one turned by -i.
 */
function twoStages(
  re: Float64Array,
  im: Float64Array,
  size: number,
  half: number,
  cos: Float64Array,
  sin: Float64Array,
): void {
  const first = half - 1;
  const second = 2 * half - 1;
  for (let start = 0; start < size; start += 4 * half) {
    for (let k = 0; k < half; k++) {
      const ia = start + k;
      const ib = ia + half;
      const ic = ib + half;
      const id = ic + half;
      const ur = cos[first + k];
      const ui = sin[first + k];
      const vr = cos[second + k];
      const vi = sin[second + k];
      const br = re[ib] * ur - im[ib] * ui;
      const bi = re[ib] * ui + im[ib] * ur;
      const dr = re[id] * ur - im[id] * ui;
      const di = re[id] * ui + im[id] * ur;
      const evenR = re[ia] + br;
      const evenI = im[ia] + bi;
      const oddR = re[ia] - br;
      const oddI = im[ia] - bi;
      const sumR = re[ic] + dr;
      const sumI = im[ic] + di;
      const restR = re[ic] - dr;
      const restI = im[ic] - di;
      const cr = sumR * vr - sumI * vi;
      const ci = sumR * vi + sumI * vr;
      // times -i v
      const er = restR * vi + restI * vr;
      const ei = restI * vi - restR * vr;
      re[ia] = evenR + cr;
      im[ia] = evenI + ci;
      re[ic] = evenR - cr;
      im[ic] = evenI - ci;
      re[ib] = oddR + er;
      im[ib] = oddI + ei;
      re[id] = oddR - er;
      im[id] = oddI - ei;
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
    re[0] = zr[0] + zi[0];
    im[0] = 0;
    re[n] = zr[0] - zi[0];
    im[n] = 0;
    // bins k and n - k come from the same two values
    for (let k = 1; k <= n / 2; k++) {
      const b = n - k;
      const evenRe = (zr[k] + zr[b]) / 2;
      const evenIm = (zi[k] - zi[b]) / 2;
      const oddRe = (zi[k] + zi[b]) / 2;
      const oddIm = (zr[b] - zr[k]) / 2;
      const turnedRe = oddRe * cos[k] + oddIm * sin[k];
      const turnedIm = oddIm * cos[k] - oddRe * sin[k];
      re[k] = evenRe + turnedRe;
      im[k] = evenIm + turnedIm;
      re[b] = evenRe - turnedRe;
      im[b] = turnedIm - evenIm;
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
