import { powerToDb } from '../../signal/decibels.ts';
import { POINTS_PER_SECOND } from './level-study.ts';
import type { LevellerSettings } from './settings.ts';

/** A pause this long may lie between two speakers: what lies beyond it says nothing of this one's level. */
const TURN_GAP = 0.4 * POINTS_PER_SECOND;
/** Speech this far under the loudest of its surroundings is a word's end or a breath, not the voice's level. */
const UNDER_DB = 20;

/** One gain in dB for each tenth of a second. In a pause it holds, or falls towards what follows; it rises only while somebody speaks. */
export function gainCurve(
  levels: readonly (number | null)[],
  { shortTermLufs, rangeDb, speedSeconds }: LevellerSettings,
): Float32Array {
  const gains = new Float32Array(levels.length);
  const reach = Math.max(1, Math.round((speedSeconds * POINTS_PER_SECOND) / 2));
  const turns = turnsOf(levels);
  let last = 0;
  let at = 0;
  for (const { start, end } of turns) {
    const first = Math.max(-rangeDb, Math.min(rangeDb, shortTermLufs - levelAround(levels, start, start, end, reach)));
    // before anybody has spoken there is nothing to hold: a quiet voice's room is not lifted
    const held = at === 0 ? Math.min(0, first) : last;
    gains.fill(held, at, start);
    if (first < held && start > 0) gains[start - 1] = first;
    for (let i = start; i < end; i++)
      gains[i] = Math.max(-rangeDb, Math.min(rangeDb, shortTermLufs - levelAround(levels, i, start, end, reach)));
    holdInPauses(gains, levels, start, end);
    last = gains[end - 1];
    at = end;
  }
  gains.fill(last, at);
  return gains;
}

interface Turn {
  start: number;
  end: number;
}

function turnsOf(levels: readonly (number | null)[]): Turn[] {
  const turns: Turn[] = [];
  levels.forEach((level, i) => {
    if (level === null) return;
    const last = turns.at(-1);
    if (last && i - last.end <= TURN_GAP) last.end = i + 1;
    else turns.push({ start: i, end: i + 1 });
  });
  return turns;
}

/** Mean level of the voice within `reach` of a point, inside its turn; a turn that is shorter is read as a whole. */
function levelAround(
  levels: readonly (number | null)[],
  at: number,
  start: number,
  end: number,
  reach: number,
): number {
  const width = Math.min(end - start, 2 * reach + 1);
  const from = Math.max(start, Math.min(end - width, at - reach));
  let loudest = Number.NEGATIVE_INFINITY;
  for (let i = from; i < from + width; i++) loudest = Math.max(loudest, levels[i] ?? Number.NEGATIVE_INFINITY);
  let power = 0;
  let count = 0;
  for (let i = from; i < from + width; i++) {
    const level = levels[i];
    if (level === null || level < loudest - UNDER_DB) continue;
    power += 10 ** (level / 10);
    count++;
  }
  return count ? powerToDb(power / count) : loudest;
}

/** Short pauses within a turn: the gain does not rise in them. */
function holdInPauses(gains: Float32Array, levels: readonly (number | null)[], start: number, end: number): void {
  for (let i = start + 1; i < end; i++) if (levels[i] === null && gains[i] > gains[i - 1]) gains[i] = gains[i - 1];
}
