/**
 * A curve through points that never overshoots them: cubic Hermite pieces with slopes limited so that each piece is monotone
 * (Fritsch and Carlson 1980); level beyond the first and the last point.
 * @param xs rising
 */
export function monotoneCurve(xs: readonly number[], ys: readonly number[]): (x: number) => number {
  const n = xs.length;
  if (n === 0) return () => 0;
  if (n === 1) return () => ys[0];
  const secants = Array.from({ length: n - 1 }, (_, i) => (ys[i + 1] - ys[i]) / (xs[i + 1] - xs[i]));
  const slopes = ys.map((_, i) => {
    if (i === 0 || i === n - 1) return 0; // level beyond the ends, and no corner there
    return secants[i - 1] * secants[i] <= 0 ? 0 : (2 * secants[i - 1] * secants[i]) / (secants[i - 1] + secants[i]);
  });
  return (x) => {
    if (x <= xs[0]) return ys[0];
    if (x >= xs[n - 1]) return ys[n - 1];
    let i = 0;
    while (x > xs[i + 1]) i++;
    const width = xs[i + 1] - xs[i];
    const t = (x - xs[i]) / width;
    const [t2, t3] = [t * t, t * t * t];
    return (
      (2 * t3 - 3 * t2 + 1) * ys[i] +
      (t3 - 2 * t2 + t) * width * slopes[i] +
      (3 * t2 - 2 * t3) * ys[i + 1] +
      (t3 - t2) * width * slopes[i + 1]
    );
  };
}
