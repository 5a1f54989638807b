import { cutsInOrder, resultSecondsOf, spanOf, type TimeCut } from '../cuts/cut.ts';
import { type TimeMap, toResult } from '../time/time-map.ts';

/** Differences of length under this are rounding. */
const SAME_SECONDS = 1e-6;

/**
 * What holds for each member of a set, on the time that they share: what changes time holds for all; what only covers a sound, where it
 * was made. Where a pick-up is longer or shorter than what it stands for, the others get so much of their room, or lose as much.
 * @param members their cuts, and where their moments lie on the shared time
 */
export function jointCuts(members: readonly { cuts: readonly TimeCut[]; map: TimeMap }[]): TimeCut[][] {
  const shared = members.map(({ cuts, map }) => cutsInOrder(cuts).map((cut) => moved(cut, map)));
  return members.map((_, own) =>
    cutsInOrder(shared.flatMap((cuts, of) => cuts.flatMap((cut) => (of === own ? [cut] : forOthers(cut))))),
  );
}

function moved(cut: TimeCut, map: TimeMap): TimeCut {
  if (cut.kind === 'pause') return { ...cut, atSeconds: toResult(map, cut.atSeconds) };
  return {
    ...cut,
    startSeconds: toResult(map, cut.startSeconds, 'after'),
    endSeconds: toResult(map, cut.endSeconds, 'before'),
  };
}

function forOthers(cut: TimeCut): TimeCut[] {
  if (cut.kind === 'take-out' || cut.kind === 'pause') return [cut];
  const { startSeconds, endSeconds } = spanOf(cut);
  const longer = resultSecondsOf(cut) - (endSeconds - startSeconds);
  const own = { id: cut.id, on: true };
  if (longer > SAME_SECONDS) return [{ kind: 'pause', ...own, atSeconds: endSeconds, lengthSeconds: longer }];
  if (longer < -SAME_SECONDS) return [{ kind: 'take-out', ...own, startSeconds: endSeconds + longer, endSeconds }];
  return [];
}
