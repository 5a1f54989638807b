/**
 * Where moments go. Everything that moves sound in time says how by one of these, and everything that has a place in time goes through
 * it: a list of knots, straight lines between them. What was taken out is a stretch in which the source goes on and the result does not;
 * what was put in, one in which the result goes on and the source does not.
 */
export type Knot = readonly [sourceSeconds: number, resultSeconds: number];

/** In order, neither side ever going back; beyond its ends it goes on at the source's own pace. */
export type TimeMap = readonly Knot[];

/** Of moments at which something was put in or taken out, the one before it or the one after it. */
export type Side = 'before' | 'after';

/** Moments nearer than this are one: a hundredth of a sample at 192 kHz. */
const SAME_SECONDS = 5e-8;

export const identityMap = (seconds: number): TimeMap => [
  [0, 0],
  [seconds, seconds],
];

export const isIdentity = (map: TimeMap): boolean => map.every(([s, r]) => Math.abs(s - r) < SAME_SECONDS);

/** When a moment of the source is heard in the result. */
export const toResult = (map: TimeMap, sourceSeconds: number, side: Side = 'after'): number =>
  along(map, sourceSeconds, 0, side);

/** Which moment of the source is heard at a moment of the result; in what was put in, the moment where that lies. */
export const toSource = (map: TimeMap, resultSeconds: number, side: Side = 'after'): number =>
  along(map, resultSeconds, 1, side);

/** A stretch of the source as it lies in the result; of no length where all of it was taken out. */
export function spanToResult<Span extends { startSeconds: number; endSeconds: number }>(
  map: TimeMap,
  span: Span,
): Span {
  const startSeconds = toResult(map, span.startSeconds, 'after');
  return { ...span, startSeconds, endSeconds: Math.max(startSeconds, toResult(map, span.endSeconds, 'before')) };
}

function along(map: TimeMap, at: number, from: 0 | 1, side: Side): number {
  if (!map.length) return at;
  const to = from === 0 ? 1 : 0;
  // the knots that the moment lies between; where it lies on some, the first or the last of them
  const next = side === 'after' ? lowest(map, (knot) => knot[from] > at) : lowest(map, (knot) => knot[from] >= at);
  const [low, high] = [map[next - 1], map[next]];
  if (side === 'before' && high && high[from] === at) return high[to];
  if (!low) return high[to] + at - high[from];
  if (!high) return low[to] + at - low[from];
  const share = (at - low[from]) / (high[from] - low[from]);
  return low[to] + share * (high[to] - low[to]);
}

/** Index of the first knot for which it holds; it holds for all behind that. */
function lowest(map: TimeMap, holds: (knot: Knot) => boolean): number {
  let [low, high] = [0, map.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (holds(map[middle])) high = middle;
    else low = middle + 1;
  }
  return low;
}

/** One after the other: from the first one's source to the second one's result. */
export function composeMaps(first: TimeMap, second: TimeMap): TimeMap {
  // every moment between the two at which either has a knot
  const between = [...first.map(([, r]) => r), ...second.map(([s]) => s)].sort((a, b) => a - b);
  const knots: Knot[] = [];
  for (const [i, moment] of between.entries()) {
    if (i > 0 && moment - between[i - 1] < SAME_SECONDS) continue;
    const [s0, s1] = [toSource(first, moment, 'before'), toSource(first, moment, 'after')];
    const [r0, r1] = [toResult(second, moment, 'before'), toResult(second, moment, 'after')];
    // what was taken out goes before what was put in at the same moment
    knots.push([s0, r0], [s1, r0], [s1, r1]);
  }
  return simplified(knots);
}

export const composeAll = (maps: readonly TimeMap[], seconds: number): TimeMap =>
  maps.reduce((all, map) => composeMaps(all, map), identityMap(seconds));

/** Without knots that say nothing: doubled ones, and those on a straight line between their neighbours. */
export function simplified(knots: readonly Knot[]): TimeMap {
  const kept: Knot[] = [];
  for (const knot of knots) {
    const last = kept.at(-1);
    if (last && knot[0] - last[0] < SAME_SECONDS && knot[1] - last[1] < SAME_SECONDS) continue;
    const before = kept.at(-2);
    if (before && last && liesBetween(before, last, knot)) kept.pop();
    kept.push(knot);
  }
  return kept;
}

function liesBetween([s0, r0]: Knot, [s, r]: Knot, [s1, r1]: Knot): boolean {
  const [over, up] = [s1 - s0, r1 - r0];
  return Math.abs((s - s0) * up - (r - r0) * over) <= SAME_SECONDS * Math.max(over, up);
}
