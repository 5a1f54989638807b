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

const LEAST = 1e-4;
const MOST = 20;
const STEPS = 1024;
const LOG_LEAST = Math.log(LEAST);
const PER_LOG = STEPS / (Math.log(MOST) - LOG_LEAST);

/** exp(E1(v) / 2) over log v, for the kernel: E1 itself is far too slow for a bin. Beyond `most` it is 1 within 1e-10. */
export const RISE_TABLE = {
  values: Float32Array.from({ length: STEPS + 2 }, (_, i) =>
    Math.exp(0.5 * exponentialIntegral(Math.exp(LOG_LEAST + i / PER_LOG))),
  ),
  logLeast: LOG_LEAST,
  perLog: PER_LOG,
  most: MOST,
} as const;
