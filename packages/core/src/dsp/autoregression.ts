import { kernels, once, roomFor } from '@tonos/kernels';

/** More than a tenth of a second at 192 kHz, and more than the order there. */
const MOST_SAMPLES = 32768;
const MOST_ORDER = 512;
const FLOATS = 2; // of 32 bits in one of 64

const room = once(() => ({
  kernel: kernels(),
  samples: roomFor(FLOATS * (MOST_SAMPLES + MOST_ORDER)),
  sums: roomFor(FLOATS * MOST_ORDER),
  coefficients: roomFor(FLOATS * MOST_ORDER),
  out: roomFor(FLOATS * (MOST_SAMPLES + 4)),
}));

/**
 * A short stretch of sound as what can be foretold of each sample from those before it: x[n] = -sum a[k] x[n - k] + e[n].
 * Coefficients by the autocorrelation method and Levinson's recursion; a[0] = 1.
 */
export function predictor(samples: Float64Array, order: number): Float64Array {
  const r = autocorrelation(samples, order);
  const a = new Float64Array(order + 1);
  a[0] = 1;
  // a breath of white noise keeps tones and silence solvable
  let error = r[0] * (1 + 1e-9) + 1e-20;
  const before = new Float64Array(order + 1);
  for (let i = 1; i <= order; i++) {
    let sum = r[i];
    for (let k = 1; k < i; k++) sum += a[k] * r[i - k];
    const reflection = -sum / error;
    before.set(a);
    for (let k = 1; k < i; k++) a[k] = before[k] + reflection * before[i - k];
    a[i] = reflection;
    error *= 1 - reflection * reflection;
    if (!(error > 0)) return a;
  }
  return a;
}

/** r[lag] = sum x[n] x[n - lag], for lags up to the order. */
function autocorrelation(samples: Float64Array, order: number): Float64Array {
  const { kernel, samples: at, sums } = room();
  const { f64 } = kernel;
  const lags = (order + 4) & ~3;
  f64.set(samples, at >> 3);
  f64.fill(0, (at >> 3) + samples.length, (at >> 3) + samples.length + lags + 1);
  kernel.autocorrelation(at, samples.length, lags, sums);
  return f64.slice(sums >> 3, (sums >> 3) + order + 1);
}

/** |e[n]| for n from the order on; 0 before. */
export function predictionErrors(samples: Float64Array, a: Float64Array): Float64Array {
  const { kernel, samples: at, coefficients, out } = room();
  const { f64 } = kernel;
  const order = a.length - 1;
  const count = Math.max(0, samples.length - order);
  f64.set(samples, at >> 3);
  f64.set(a, coefficients >> 3);
  kernel.predictionErrors(at + 8 * order, count, coefficients, order, out);
  const errors = new Float64Array(samples.length);
  errors.set(f64.subarray(out >> 3, (out >> 3) + count), order);
  return errors;
}

/**
 * Puts in place of the marked samples those that make the residual's energy least (Janssen, Veldhuis, Vries 1986). The marks must lie
 * at least the predictor's order away from both ends.
 */
export function interpolate(samples: Float64Array, marked: readonly number[], a: Float64Array): void {
  const order = a.length - 1;
  const m = marked.length;
  // b[l] = sum a[k] a[k + l]
  const b = Float64Array.from({ length: order + 1 }, (_, lag) => {
    let sum = 0;
    for (let k = 0; k + lag <= order; k++) sum += a[k] * a[k + lag];
    return sum;
  });
  const place = new Map(marked.map((at, i) => [at, i]));
  const matrix = Array.from({ length: m }, () => new Float64Array(m));
  const right = new Float64Array(m);
  for (let i = 0; i < m; i++) {
    for (let lag = -order; lag <= order; lag++) {
      const at = marked[i] + lag;
      const weight = b[Math.abs(lag)];
      const j = place.get(at);
      if (j === undefined) right[i] -= weight * samples[at];
      else matrix[i][j] = weight;
    }
  }
  const solved = solveSymmetric(matrix, right);
  marked.forEach((at, i) => {
    samples[at] = solved[i];
  });
}

/** Cholesky's decomposition of a positive definite matrix, which it overwrites. */
function solveSymmetric(matrix: Float64Array[], right: Float64Array): Float64Array {
  const m = right.length;
  for (let i = 0; i < m; i++) {
    for (let j = 0; j <= i; j++) {
      let sum = matrix[i][j];
      for (let k = 0; k < j; k++) sum -= matrix[i][k] * matrix[j][k];
      matrix[i][j] = i === j ? Math.sqrt(Math.max(sum, 1e-12)) : sum / matrix[j][j];
    }
  }
  const x = right.slice();
  for (let i = 0; i < m; i++) {
    for (let k = 0; k < i; k++) x[i] -= matrix[i][k] * x[k];
    x[i] /= matrix[i][i];
  }
  for (let i = m - 1; i >= 0; i--) {
    for (let k = i + 1; k < m; k++) x[i] -= matrix[k][i] * x[k];
    x[i] /= matrix[i][i];
  }
  return x;
}
