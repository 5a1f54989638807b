import fc from 'fast-check';
import {
  composeMaps,
  identityMap,
  isIdentity,
  type Knot,
  spanToResult,
  type TimeMap,
  toResult,
  toSource,
} from './time-map.ts';

/** From ten seconds: two were taken out at 3, one put in at 7. */
const EDITED: TimeMap = [
  [0, 0],
  [3, 3],
  [5, 3],
  [7, 5],
  [7, 6],
  [10, 9],
];

it('tells where moments went, before and after what was taken out and put in', () => {
  expect([2, 3, 4, 5, 6].map((s) => toResult(EDITED, s))).toEqual([2, 3, 3, 3, 4]);
  expect([toResult(EDITED, 7, 'before'), toResult(EDITED, 7, 'after')]).toEqual([5, 6]);
  expect([toSource(EDITED, 3, 'before'), toSource(EDITED, 3, 'after')]).toEqual([3, 5]);
  expect(toSource(EDITED, 5.5)).toBe(7);
  // beyond the ends at the source's pace
  expect([toResult(EDITED, -1), toResult(EDITED, 12), toSource(EDITED, 11)]).toEqual([-1, 11, 12]);
  expect(toResult([], 4)).toBe(4);
});

it('a stretch keeps its sound: what was put in at its edges stays outside, and one that is gone has no length', () => {
  expect(spanToResult(EDITED, { startSeconds: 7, endSeconds: 8 })).toEqual({ startSeconds: 6, endSeconds: 7 });
  expect(spanToResult(EDITED, { startSeconds: 6, endSeconds: 7 })).toEqual({ startSeconds: 4, endSeconds: 5 });
  expect(spanToResult(EDITED, { startSeconds: 3.5, endSeconds: 4.5 })).toEqual({ startSeconds: 3, endSeconds: 3 });
});

/** Maps from a given length: pieces that are kept, taken out, put in, or played at another pace. */
const pieces = fc.array(
  fc.record({
    kind: fc.constantFrom('keep', 'out', 'in', 'pace'),
    seconds: fc.integer({ min: 1, max: 5000 }).map((ms) => ms / 1000),
    pace: fc.constantFrom(0.5, 0.8, 1.25, 2),
  }),
  { minLength: 1, maxLength: 12 },
);
function mapOf(parts: { kind: string; seconds: number; pace: number }[], length?: number): TimeMap {
  const knots: Knot[] = [[0, 0]];
  const put = (s: number, r: number) => {
    const [s0, r0] = knots.at(-1)!;
    const over = Math.min(s, (length ?? Number.POSITIVE_INFINITY) - s0);
    knots.push([s0 + over, r0 + (s ? (r * over) / s : r)]);
  };
  for (const { kind, seconds, pace } of parts) {
    if (kind === 'keep') put(seconds, seconds);
    if (kind === 'out') put(seconds, 0);
    if (kind === 'in') put(0, seconds);
    if (kind === 'pace') put(seconds, seconds * pace);
  }
  const [s, r] = knots.at(-1)!;
  if (length !== undefined && s < length) knots.push([length, r + length - s]);
  return knots;
}

/** What is gone lies at its join, on either side of what was put in there. */
const isKept = (map: TimeMap, s: number) =>
  Math.abs(toSource(map, toResult(map, s), 'after') - toSource(map, toResult(map, s), 'before')) < 1e-9;

it('composed maps do what one after the other does, never go back, and compose in any grouping', () => {
  fc.assert(
    fc.property(pieces, pieces, pieces, (a, b, c) => {
      const first = mapOf(a);
      const second = mapOf(b, first.at(-1)![1]);
      const third = mapOf(c, second.at(-1)![1]);
      const both = composeMaps(first, second);
      const end = first.at(-1)![0];
      for (let s = 0.0013; s < end; s += 0.173) {
        if (!isKept(first, s)) continue;
        for (const side of ['before', 'after'] as const)
          expect(toResult(both, s, side)).toBeCloseTo(toResult(second, toResult(first, s, side), side), 6);
      }
      for (const [i, [s, r]] of both.entries())
        if (i) expect(s >= both[i - 1][0] - 1e-9 && r >= both[i - 1][1] - 1e-9).toBe(true);
      const grouped = [composeMaps(both, third), composeMaps(first, composeMaps(second, third))];
      for (let s = 0.0013; s < end; s += 0.173)
        if (isKept(both, s)) expect(toResult(grouped[0], s)).toBeCloseTo(toResult(grouped[1], s), 6);
    }),
  );
});

it('the identity changes nothing and is told', () => {
  const length = EDITED.at(-1)!;
  expect(composeMaps(identityMap(10), EDITED)).toEqual(EDITED);
  expect(composeMaps(EDITED, identityMap(length[1]))).toEqual(EDITED);
  expect(isIdentity(identityMap(7))).toBe(true);
  expect(isIdentity(EDITED)).toBe(false);
});
