// What is foretold of samples by those before them, in 64 bits: the recursion that solves it is touchy.

/**
 * The sums of products of samples with themselves `lag` later, for `lags` lags from 0 on, a multiple of four. `samples` are followed by
 * `lags` zeros and one more.
 */
export function autocorrelation(samples: usize, count: i32, lags: i32, out: usize): void {
  const end = samples + ((<usize>count) << 3);
  for (let lag = 0; lag < lags; lag += 4) {
    let a = f64x2.splat(0);
    let b = f64x2.splat(0);
    let c = f64x2.splat(0);
    let d = f64x2.splat(0);
    let later = samples + ((<usize>lag) << 3);
    for (let at = samples; at < end; at += 16) {
      const x = v128.load(at);
      a = f64x2.add(a, f64x2.mul(x, v128.load(later)));
      b = f64x2.add(b, f64x2.mul(x, v128.load(later, 8)));
      c = f64x2.add(c, f64x2.mul(x, v128.load(later, 16)));
      d = f64x2.add(d, f64x2.mul(x, v128.load(later, 24)));
      later += 16;
    }
    const to = out + ((<usize>lag) << 3);
    store<f64>(to, f64x2.extract_lane(a, 0) + f64x2.extract_lane(a, 1));
    store<f64>(to, f64x2.extract_lane(b, 0) + f64x2.extract_lane(b, 1), 8);
    store<f64>(to, f64x2.extract_lane(c, 0) + f64x2.extract_lane(c, 1), 16);
    store<f64>(to, f64x2.extract_lane(d, 0) + f64x2.extract_lane(d, 1), 24);
  }
}

/**
 * Sizes of what is left of each of `count` samples when what is foretold is taken away: |sum a[k] x[n - k]|, k from 0 to `order`. `samples`
 * is the first of them; `order` more lie before it. Up to three values beyond the end.
 */
export function predictionErrors(samples: usize, count: i32, coefficients: usize, order: i32, out: usize): void {
  for (let n = 0; n < count; n += 4) {
    let at = samples + ((<usize>n) << 3);
    let first = f64x2.splat(0);
    let second = f64x2.splat(0);
    for (let k = 0; k <= order; k++) {
      const a = v128.load64_splat(coefficients + ((<usize>k) << 3));
      first = f64x2.add(first, f64x2.mul(a, v128.load(at)));
      second = f64x2.add(second, f64x2.mul(a, v128.load(at, 16)));
      at -= 8;
    }
    const to = out + ((<usize>n) << 3);
    v128.store(to, f64x2.abs(first));
    v128.store(to, f64x2.abs(second), 16);
  }
}
