/**
 * Log-spectral-amplitude gain: xi / (1 + xi) * exp(E1(v) / 2), v = gamma xi / (1 + xi).
 * Ephraim and Malah, IEEE Trans. ASSP 33(2), 1985, eq. 20.
 */

/** Exponential integral E1 for x > 0: power series below 1, continued fraction above (Abramowitz and Stegun 5.1.11, 5.1.22). */
export function exponentialIntegral(x: number): number {
  if (x < 1) {
    let sum = -0.5772156649015329 - Math.log(x);
    let term = -1;
    for (let k = 1; k < 40; k++) {
      term *= -x / k;
      const part = term / k;
      sum += part;
      if (Math.abs(part) < 1e-15) break;
    }
    return sum;
  }
  let fraction = 0;
  for (let k = 40; k > 0; k--) fraction = k / (1 + k / (x + fraction));
  return Math.exp(-x) / (x + fraction);
}

const FIRST_OCTAVE = -14;
const OCTAVES = 19;
const PER_OCTAVE = 128;

/**
 * exp(E1(v) / 2) for the kernel, which holds v between `least` and `most`: E1 itself is far too slow for a bin. Steps are of equal width
 * within an octave, so that a float's own bits say where to read. Beyond `most` it is 1 within 1e-10.
 */
export const RISE_TABLE = {
  values: Float32Array.from({ length: OCTAVES * PER_OCTAVE + 1 }, (_, i) => {
    const octave = Math.floor(i / PER_OCTAVE);
    const v = 2 ** (FIRST_OCTAVE + octave) * (1 + (i % PER_OCTAVE) / PER_OCTAVE);
    return Math.exp(0.5 * exponentialIntegral(v));
  }),
  first: 2 ** FIRST_OCTAVE,
  perOctave: PER_OCTAVE,
  least: 1e-4,
  most: 20,
} as const;
