import type { Gap, SpanOfSeconds } from '../../measure/activity/speech-edges.ts';

export type Pause = Gap;

/** A stretch of the room keeps so much at either end: joins lie in it, and what comes before and after it is left whole. */
const GUARD_SECONDS = 0.03;

/**
 * What to take out of a pause so that it becomes `longestSeconds` and a share of the rest: of its quiet stretches the longest first, from
 * their middles, so that breaths stay whole. Less, where there is not enough of them.
 */
export function cutsOf(
  { startSeconds, endSeconds, quiet }: Pause,
  longestSeconds: number,
  share: number,
): SpanOfSeconds[] {
  const over = endSeconds - startSeconds - longestSeconds;
  let left = over * (1 - share);
  if (left <= 0) return [];
  const cuts: SpanOfSeconds[] = [];
  const usable = quiet
    .map((one) => ({ startSeconds: one.startSeconds + GUARD_SECONDS, endSeconds: one.endSeconds - GUARD_SECONDS }))
    .filter((one) => one.endSeconds > one.startSeconds)
    .sort((a, b) => b.endSeconds - b.startSeconds - (a.endSeconds - a.startSeconds));
  for (const one of usable) {
    const length = Math.min(left, one.endSeconds - one.startSeconds);
    const from = (one.startSeconds + one.endSeconds - length) / 2;
    cuts.push({ startSeconds: from, endSeconds: from + length });
    left -= length;
    // a millisecond is no cut
    if (left < 1e-3) break;
  }
  return cuts.sort((a, b) => a.startSeconds - b.startSeconds);
}
