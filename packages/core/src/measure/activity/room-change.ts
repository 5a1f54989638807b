import { median } from '../../dsp/quantile.ts';
import { powerToDb } from '../../signal/decibels.ts';
import { type ActivityFrames, FRAMES_PER_SECOND } from './activity-frames.ts';
import type { RoomTone } from './room-tone.ts';

const LEAST_CONFIDENCE = 0.4;
/** Smaller changes are those of a person's own moving about. */
const LEAST_DB = 6;
/** Over so many frames the quietest tells the room. */
const NEAR = 15;

/** The largest step between the tones before and after a moment, and when it was. */
export function roomChange(
  frames: ActivityFrames,
  roomTone: readonly RoomTone[],
): { seconds: number; byDb: number } | undefined {
  const tones = roomTone
    .filter(({ confidence }) => confidence >= LEAST_CONFIDENCE)
    .sort((a, b) => a.startSeconds - b.startSeconds);
  let best: { from: RoomTone; to: RoomTone; byDb: number } | undefined;
  for (let i = 1; i < tones.length; i++) {
    const byDb = middle(tones.slice(i)) - middle(tones.slice(0, i));
    if (!best || Math.abs(byDb) > Math.abs(best.byDb)) best = { from: tones[i - 1], to: tones[i], byDb };
  }
  if (!best || Math.abs(best.byDb) <= LEAST_DB) return undefined;
  const { from, to, byDb } = best;
  const half = (from.rmsDbfs + to.rmsDbfs) / 2;
  const [first, last] = [from.endSeconds, to.startSeconds].map((s) => Math.round(s * FRAMES_PER_SECOND));
  // the quieter room shows whenever speech gives way; the change lies where it is heard for the last, or the first, time
  let at = byDb > 0 ? first : last;
  for (let i = first; i < last; i++) {
    if (quietest(frames, i) >= half) continue;
    at = byDb > 0 ? i + NEAR : Math.min(at, i);
  }
  return { seconds: Math.min(last, at) / FRAMES_PER_SECOND, byDb };
}

const middle = (tones: readonly RoomTone[]): number => median(tones.map(({ rmsDbfs }) => rmsDbfs))!;

function quietest(frames: ActivityFrames, from: number): number {
  let least = Number.POSITIVE_INFINITY;
  for (let i = from; i < Math.min(frames.count, from + NEAR); i++) least = Math.min(least, frames.wholePower(i));
  return powerToDb(least + 1e-20);
}
