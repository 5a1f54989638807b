import { RealFft } from '@tonos/kernels';

/** How well two signals fit for every lag. */
export interface Correlation {
  /** By the lag from `leastLag` on: where b's first sample lies on a. */
  values: Float32Array;
  leastLag: number;
}

const PART = 8192;

type Bins = readonly [re: Float32Array, im: Float32Array];

const emptyBins = (fft: RealFft): Bins => [new Float32Array(fft.bins), new Float32Array(fft.bins)];

/** The spectrum of some samples, zeros behind them. */
function spectrumOf(fft: RealFft, samples: Float32Array): Bins {
  const padded = new Float32Array(fft.size);
  padded.set(samples);
  const bins = emptyBins(fft);
  fft.forward(padded, ...bins);
  return bins;
}

/** Adds A times the conjugate of B. */
function addProduct([re, im]: Bins, [reA, imA]: Bins, [reB, imB]: Bins): void {
  for (let k = 0; k < re.length; k++) {
    re[k] += reA[k] * reB[k] + imA[k] * imB[k];
    im[k] += imA[k] * reB[k] - reA[k] * imB[k];
  }
}

/**
 * Cross-correlation at all lags at which two overlap, summed over several pairs of the same lengths. In parts: what lies as many parts
 * apart in both is summed before it is transformed back, so that transforms stay short however long the signals are.
 */
export function correlate(pairs: readonly (readonly [a: Float32Array, b: Float32Array])[]): Correlation {
  const fft = new RealFft(2 * PART);
  const partsOf = (samples: Float32Array): Bins[] =>
    Array.from({ length: Math.ceil(samples.length / PART) }, (_, i) =>
      spectrumOf(fft, samples.subarray(i * PART, (i + 1) * PART)),
    );
  const parts = pairs.map(([a, b]) => ({ a: partsOf(a), b: partsOf(b) }));
  const [a, b] = pairs[0];
  const leastLag = 1 - b.length;
  const values = new Float32Array(a.length + b.length - 1);
  const round = new Float32Array(fft.size);
  for (let apart = 1 - parts[0].b.length; apart < parts[0].a.length; apart++) {
    const sum = emptyBins(fft);
    for (const own of parts) {
      for (let j = Math.max(0, -apart); j < own.b.length && j + apart < own.a.length; j++)
        addProduct(sum, own.a[j + apart], own.b[j]);
    }
    fft.inverse(...sum, round);
    for (let lag = 1 - PART; lag < PART; lag++) {
      const at = apart * PART + lag - leastLag;
      if (at >= 0 && at < values.length) values[at] += round[(lag + fft.size) % fft.size];
    }
  }
  return { values, leastLag };
}

/**
 * Cross-correlation at lags from 0 to `mostLag` of a short signal and a longer one in which it lies, over part of the spectrum; of
 * what both share in each frequency the phase counts, and little of its strength (the generalised correlation of Knapp and Carter, 1976).
 * @param a as long as b and `mostLag` more; @param whiten 0: as it is; 1: the phases only
 */
export function correlateWithin(
  a: Float32Array,
  b: Float32Array,
  mostLag: number,
  whiten: number,
  hears: (share: number) => boolean,
): Correlation {
  const fft = new RealFft(2 ** Math.ceil(Math.log2(PART + mostLag + 1)));
  const sum = emptyBins(fft);
  for (let at = 0; at < b.length; at += PART)
    addProduct(sum, spectrumOf(fft, a.subarray(at, at + fft.size)), spectrumOf(fft, b.subarray(at, at + PART)));
  const [re, im] = sum;
  for (let k = 0; k < fft.bins; k++) {
    const weight = hears(k / fft.size) ? (Math.hypot(re[k], im[k]) + 1e-20) ** -whiten : 0;
    re[k] *= weight;
    im[k] *= weight;
  }
  const round = new Float32Array(fft.size);
  fft.inverse(re, im, round);
  return { values: round.subarray(0, mostLag + 1), leastLag: 0 };
}

export interface Peak {
  /** To a fraction of a sample. */
  lag: number;
  /** By how many times it stands over what the others are. */
  over: number;
}

/** The highest values, the highest first, no two of them nearer than `apart`. */
export function peaksOf({ values, leastLag }: Correlation, most: number, apart: number): Peak[] {
  const rms = Math.sqrt(values.reduce((sum, value) => sum + value * value, 0) / Math.max(1, values.length));
  const peaks: Peak[] = [];
  const taken: number[] = [];
  while (peaks.length < most) {
    let at = -1;
    for (let i = 0; i < values.length; i++)
      if ((at < 0 || values[i] > values[at]) && !taken.some((other) => Math.abs(other - i) < apart)) at = i;
    if (at < 0 || !(values[at] > 0)) break;
    taken.push(at);
    peaks.push({ lag: leastLag + at + topBeside(values, at), over: values[at] / rms });
  }
  return peaks;
}

/** Where the top of the parabola through a value and its neighbours lies, against that value. */
function topBeside(values: Float32Array, at: number): number {
  const [before, here, after] = [values[at - 1] ?? 0, values[at], values[at + 1] ?? 0];
  const bend = before - 2 * here + after;
  return bend < 0 ? Math.max(-0.5, Math.min(0.5, (0.5 * (before - after)) / bend)) : 0;
}
