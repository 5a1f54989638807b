import { type ActivityFrames, BANDS, type Run, STEP_DB } from './activity-frames.ts';
import type { RoomFloor } from './room-floor.ts';

/** Excess of a band that counts, at most. */
const MOST_EXCESS = 30 / STEP_DB;
/** Over the score of the quietest frames: speech begins, speech goes on. */
const BEGIN_DB = 4;
const GO_ON_DB = 2;
const LEAST_SPEECH_FRAMES = 4;
const BRIDGED_GAP_FRAMES = 8;
/** The quietest frames, and how far over them the score of a room by itself is spread: noise lies over its own floor. */
const QUIETEST_SHARE = 0.03;
const ROOM_SPREAD_DB = 2;

/**
 * Speech by hysteresis on the score: the mean excess of the bands over the room's floor, smoothed over 100 ms. Noise of any colour scores alike, which an
 * energy threshold does not give; speech scores where a few bands stand out. Short gaps are bridged, short bursts left out.
 */
export function findSpeech(frames: ActivityFrames, floor: RoomFloor): Run[] {
  const { count } = frames;
  const score = scores(frames, floor);
  const base = floor.hasPlateau ? roomScore(score.filter((_, i) => frames.sounds(i)).sort()) : 0;
  const runs: Run[] = [];
  let start = -1;
  let strong = false;
  for (let i = 0; i <= count; i++) {
    const s = i < count ? score[i] - base : Number.NEGATIVE_INFINITY;
    if (s > GO_ON_DB) {
      if (start < 0) start = i;
      if (s > BEGIN_DB) strong = true;
    } else if (start >= 0) {
      const last = runs.at(-1);
      if (strong && last && start - last.end <= BRIDGED_GAP_FRAMES) last.end = i;
      else if (strong && i - start >= LEAST_SPEECH_FRAMES) runs.push({ start, end: i });
      start = -1;
      strong = false;
    }
  }
  return runs;
}

/** The middle score of the frames that lie near the quietest: that of the room by itself. */
function roomScore(sorted: Float32Array): number {
  if (!sorted.length) return 0;
  const quietest = sorted[Math.floor(QUIETEST_SHARE * sorted.length)];
  const above = sorted.findIndex((s) => s > quietest + ROOM_SPREAD_DB);
  return sorted[(above < 0 ? sorted.length : above) >> 1];
}

/** The smoothed mean excess in dB, one value a frame. */
function scores(frames: ActivityFrames, floor: RoomFloor): Float32Array {
  const { count, bands, voiceBands } = frames;
  const raw = new Float32Array(count);
  for (let i = 0; i < count; i++) {
    const floors = floor.at(i);
    let sum = 0;
    for (let b = 0; b < voiceBands; b++) {
      const excess = bands[i * BANDS + b] - floors[b];
      if (excess > 0) sum += excess < MOST_EXCESS ? excess : MOST_EXCESS;
    }
    raw[i] = (sum * STEP_DB) / voiceBands;
  }
  const smooth = new Float32Array(count);
  for (let i = 0; i < count; i++) {
    let sum = 0;
    let weight = 0;
    for (let k = Math.max(0, i - 2); k <= Math.min(count - 1, i + 2); k++) {
      const w = 3 - Math.abs(k - i);
      sum += w * raw[k];
      weight += w;
    }
    smooth[i] = sum / weight;
  }
  return smooth;
}
