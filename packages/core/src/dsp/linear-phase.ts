import { kaiser, kaiserBeta, sinc } from './kaiser.ts';

/**
 * Taps of a linear-phase high-pass by a Kaiser-windowed sinc (odd in number): stop band to `stopHz`, pass band from `passHz`, both
 * within `attenuationDb`.
 */
export function highPassTaps(
  stopHz: number,
  passHz: number,
  attenuationDb: number,
  sampleRateHz: number,
): Float64Array {
  const transition = (passHz - stopHz) / sampleRateHz;
  const half = Math.ceil((attenuationDb - 7.95) / (14.36 * transition) / 2);
  const cutoff = (stopHz + passHz) / 2 / sampleRateHz;
  const beta = kaiserBeta(attenuationDb);
  return Float64Array.from({ length: 2 * half + 1 }, (_, k) => {
    const x = k - half;
    const low = 2 * cutoff * sinc(2 * cutoff * x) * kaiser(x / (half + 1), beta);
    return (x === 0 ? 1 : 0) - low;
  });
}

/** A symmetrical filter of an odd number of taps over one channel; output lags by half of them. */
export class SymmetricFilter {
  private held: Float64Array;

  constructor(private readonly taps: Float64Array) {
    this.held = new Float64Array(taps.length - 1);
  }

  /** Filters `samples` into `out`, and writes the input, delayed alike, to `delayed`. */
  process(samples: Float32Array, out: Float64Array, delayed: Float64Array): void {
    const { taps } = this;
    const reach = taps.length - 1;
    const half = reach / 2;
    const frames = samples.length;
    const all = new Float64Array(reach + frames);
    all.set(this.held);
    for (let i = 0; i < frames; i++) all[reach + i] = samples[i];
    for (let i = 0; i < frames; i++) {
      let even = taps[half] * all[i + half];
      let odd = 0;
      for (let k = 0; k < half - 1; k += 2) {
        even += taps[k] * (all[i + k] + all[i + reach - k]);
        odd += taps[k + 1] * (all[i + k + 1] + all[i + reach - k - 1]);
      }
      if (half % 2) even += taps[half - 1] * (all[i + half - 1] + all[i + half + 1]);
      out[i] = even + odd;
      delayed[i] = all[i + half];
    }
    this.held = all.slice(frames);
  }
}
