export interface Point {
  x: number;
  y: number;
}

export interface Line {
  /** y at x = 0. */
  offset: number;
  slope: number;
  /** Points that lie on it. */
  on: readonly Point[];
}

/**
 * The line that most points lie on, whatever the others do: of all lines through two points the one that most agree with, and through
 * those then the one of least squares.
 * @param mostSlope no line is steeper; @param within how far from a line a point still lies on it
 */
export function fitLine(points: readonly Point[], mostSlope: number, within: number): Line | undefined {
  const agree = ({ offset, slope }: Pick<Line, 'offset' | 'slope'>) =>
    points.filter(({ x, y }) => Math.abs(offset + slope * x - y) <= within);
  let best: readonly Point[] = [];
  for (const [i, a] of points.entries()) {
    for (const b of points.slice(i)) {
      const slope = a.x === b.x ? 0 : (b.y - a.y) / (b.x - a.x);
      if (Math.abs(slope) > mostSlope) continue;
      const on = agree({ offset: a.y - slope * a.x, slope });
      if (on.length > best.length) best = on;
    }
  }
  if (!best.length) return undefined;
  const line = leastSquares(best);
  return { ...line, on: best };
}

function leastSquares(points: readonly Point[]): Pick<Line, 'offset' | 'slope'> {
  const mean = (value: (point: Point) => number) =>
    points.reduce((sum, point) => sum + value(point), 0) / points.length;
  const [x0, y0] = [mean(({ x }) => x), mean(({ y }) => y)];
  const spread = mean(({ x }) => (x - x0) ** 2);
  const slope = spread ? mean(({ x, y }) => (x - x0) * (y - y0)) / spread : 0;
  return { offset: y0 - slope * x0, slope };
}
