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
