import { kaiser, kaiserBeta, sinc } from './kaiser.ts';

/** Kaiser's formula for the length falls up to 2.5 dB short of what it says. */
const SHORTFALL_DB = 3;

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
  const designDb = attenuationDb + SHORTFALL_DB;
  const half = Math.ceil((designDb - 7.95) / (14.36 * transition) / 2);
  const cutoff = (stopHz + passHz) / 2 / sampleRateHz;
  const beta = kaiserBeta(designDb);
  return Float64Array.from({ length: 2 * half + 1 }, (_, k) => {
    const x = k - half;
    const low = 2 * cutoff * sinc(2 * cutoff * x) * kaiser(x / (half + 1), beta);
    return (x === 0 ? 1 : 0) - low;
  });
}
