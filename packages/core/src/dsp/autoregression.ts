/**
 * A short stretch of sound as what can be foretold of each sample from those before it: x[n] = -sum a[k] x[n - k] + e[n].
 * Coefficients by the autocorrelation method and Levinson's recursion; a[0] = 1.
 */
export function predictor(samples: Float64Array, order: number): Float64Array {
  const n = samples.length;
  const r = new Float64Array(order + 1);
  for (let lag = 0; lag <= order; lag++) {
    let sum = 0;
    for (let i = lag; i < n; i++) sum += samples[i] * samples[i - lag];
    r[lag] = sum;
  }
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

/** e[n] for n from the order on; 0 before. */
export function residual(samples: Float64Array, a: Float64Array): Float64Array {
  const e = new Float64Array(samples.length);
  const order = a.length - 1;
  for (let i = order; i < samples.length; i++) {
    let sum = samples[i];
    for (let k = 1; k <= order; k++) sum += a[k] * samples[i - k];
    e[i] = sum;
  }
  return e;
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
