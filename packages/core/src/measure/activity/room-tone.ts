import { median } from '../../dsp/quantile.ts';
import { powerToDb } from '../../signal/decibels.ts';
import { type ActivityFrames, FRAMES_PER_SECOND, type Run } from './activity-frames.ts';

export interface RoomTone {
  startSeconds: number;
  endSeconds: number;
  rmsDbfs: number;
  confidence: number;
}

/** What a stretch between words must be to count as the room alone. */
interface Strictness {
  /** Frames kept away from speech on either side: word ends ring on, breaths come before. */
  guardFrames: number;
  leastSeconds: number;
  leastConfidence: number;
}

const STRICT: Strictness = { guardFrames: 8, leastSeconds: 0.4, leastConfidence: 0.2 };
/** Where nothing else is there, a short pause must do, if it is steady: a quiet syllable is not. */
const LENIENT: Strictness = { guardFrames: 3, leastSeconds: 0.24, leastConfidence: 0.4 };
const MOST_TONES = 20;
/** A tone of a second is long enough; one of no length would be trusted by a third. */
const SHORT_TRUST = 0.35;

/** Room tone between runs of speech, best first. */
export function findRoomTone(frames: ActivityFrames, speech: readonly Run[]): RoomTone[] {
  const levels: number[] = [];
  for (const { start, end } of speech) for (let i = start; i < end; i++) levels.push(frames.levelDb(i));
  const speechDb = median(levels);
  for (const strictness of [STRICT, LENIENT]) {
    const found = gaps(speech, frames.count, strictness.guardFrames)
      .flatMap((gap) => soundingParts(frames, gap, strictness.leastSeconds))
      .map((run) => judge(frames, run, speechDb))
      .filter(({ confidence }) => confidence >= strictness.leastConfidence)
      .sort((a, b) => b.confidence - a.confidence || a.startSeconds - b.startSeconds);
    if (found.length) return spreadOut(found);
  }
  return [];
}

function gaps(speech: readonly Run[], count: number, guard: number): Run[] {
  return [{ start: 0, end: 0 }, ...speech].map(({ end }, i) => {
    const next = speech[i]?.start ?? count;
    return { start: end === 0 ? 0 : end + guard, end: next === count ? count : next - guard };
  });
}

/** Parts of a gap without digital silence that are long enough. */
function soundingParts(frames: ActivityFrames, { start: from, end: to }: Run, leastSeconds: number): Run[] {
  const parts: Run[] = [];
  let start = from;
  for (let i = from; i <= to; i++) {
    if (i < to && frames.sounds(i)) continue;
    if (i - start >= leastSeconds * FRAMES_PER_SECOND) parts.push({ start, end: i });
    start = i + 1;
  }
  return parts;
}

/** Confidence: long enough, steady, and well below the speech. */
function judge(frames: ActivityFrames, { start, end }: Run, speechDb: number | undefined): RoomTone {
  const count = end - start;
  let [whole, power, sum, squares] = [0, 0, 0, 0];
  for (let i = start; i < end; i++) {
    const level = frames.levelDb(i);
    whole += frames.wholePower(i);
    power += frames.power(i);
    sum += level;
    squares += level * level;
  }
  const spread = Math.sqrt(Math.max(0, squares / count - (sum / count) ** 2));
  const length = Math.min(1, SHORT_TRUST + ((1 - SHORT_TRUST) * count) / FRAMES_PER_SECOND);
  const steady = Math.max(0, Math.min(1, (6 - spread) / 4));
  const below = speechDb === undefined ? 1 : Math.max(0, Math.min(1, (speechDb - powerToDb(power / count)) / 10));
  return {
    startSeconds: start / FRAMES_PER_SECOND,
    endSeconds: end / FRAMES_PER_SECOND,
    rmsDbfs: powerToDb(whole / count),
    confidence: Math.round(length * steady * below * 100) / 100,
  };
}

/**
 * Of many tones the best of each part of the recording, so that a room that changes is known on both sides of the change. Best
 * first.
 */
function spreadOut(found: readonly RoomTone[]): RoomTone[] {
  if (found.length <= MOST_TONES) return [...found];
  const end = Math.max(...found.map(({ endSeconds }) => endSeconds));
  const kept = new Map<number, RoomTone>();
  for (const tone of found) {
    const part = Math.min(MOST_TONES - 1, Math.floor((tone.startSeconds / end) * MOST_TONES));
    if (!kept.has(part)) kept.set(part, tone);
  }
  for (const tone of found)
    if (kept.size < MOST_TONES && ![...kept.values()].includes(tone)) kept.set(-kept.size, tone);
  return [...kept.values()].sort((a, b) => b.confidence - a.confidence || a.startSeconds - b.startSeconds);
}
