import { quantile } from '../../dsp/quantile.ts';
import { type ActivityFrames, FRAMES_PER_SECOND, type Run } from './activity-frames.ts';

/** What a fall must span to be judged, in dB and frames. */
const LEAST_FALL_DB = 18;
const LEAST_FRAMES = 4;
const AFTER_SPEECH = 50;
const ABOVE_FLOOR_DB = 6;
const SMOOTHED = 1;
const FLUTTER_DB = 2;
/** Too few ends to judge a room by. */
const LEAST_ENDS = 4;
/** Speech itself dies away slowly now and then; what no end of it is faster than is the room. */
const FAST_SHARE = 0.3;

/** Reverberation time T60 in seconds, from how fast the level falls where speech stops; undefined where too few ends are clear. */
export function decaySeconds(frames: ActivityFrames, speech: readonly Run[]): number | undefined {
  const times: number[] = [];
  for (const [k, { end }] of speech.entries()) {
    const until = Math.min(frames.count, end + AFTER_SPEECH, speech[k + 1]?.start ?? frames.count);
    const time = fallAround(frames, Math.max(0, end - AFTER_SPEECH), until);
    if (time !== undefined) times.push(time);
  }
  if (times.length < LEAST_ENDS) return undefined;
  return quantile(times, FAST_SHARE);
}

const mean = (values: readonly number[]): number => values.reduce((sum, x) => sum + x, 0) / values.length;

/** The last long fall in a stretch: from a top down to near what comes after. */
function fallAround(frames: ActivityFrames, from: number, to: number): number | undefined {
  if (to - from < 2 * LEAST_FRAMES) return undefined;
  const raw = Array.from({ length: to - from }, (_, i) => (frames.sounds(from + i) ? frames.levelDb(from + i) : -100));
  const levels = raw.map((_, i) => mean(raw.slice(Math.max(0, i - SMOOTHED), i + SMOOTHED + 1)));
  const floor = Math.min(...levels.slice(-5)) + ABOVE_FLOOR_DB;
  let bottom = levels.length - 1;
  while (bottom > 0 && levels[bottom - 1] < floor) bottom--;
  let top = bottom;
  // a room's own sound flutters while it falls
  for (let i = bottom; i > 0 && levels[i] > levels[top] - FLUTTER_DB; i--) if (levels[i] > levels[top]) top = i;
  const fall = levels[top] - levels[bottom];
  if (bottom - top < LEAST_FRAMES || fall < LEAST_FALL_DB) return undefined;
  // the upper part is the voice's own end
  const start = top + Math.max(1, Math.floor((bottom - top) / 4));
  const slope = (levels[start] - levels[bottom]) / (bottom - start);
  return slope > 0 ? 60 / slope / FRAMES_PER_SECOND : undefined;
}
