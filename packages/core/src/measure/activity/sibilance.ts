import { powerToDb } from '../../signal/decibels.ts';
import {
  type ActivityFrames,
  BAND_EDGES_HZ,
  BAND_POWERS,
  BANDS,
  FRAMES_PER_SECOND,
  type Run,
} from './activity-frames.ts';

const bandAt = (hz: number): number => BAND_EDGES_HZ.indexOf(hz as (typeof BAND_EDGES_HZ)[number]);
const MIDDLE = [bandAt(1000), bandAt(4000)] as const;
const SHARP = [bandAt(5000), BANDS] as const;
const LOW = [0, bandAt(1000)] as const;
/** Too few to tell by. */
const LEAST_FRAMES = 20;
/** An s stands over a usual one by this to be named. */
const SHARPER_DB = 3;
const MOST_PLACES = 400;

export interface Sibilance {
  sibilanceDb: number | undefined;
  sharpest: { startSeconds: number; endSeconds: number }[];
}

/** How strong s sounds are against vowels. An s: 5 to 10 kHz outweigh all below; a vowel: 1 to 4 kHz outweigh them. */
export function sibilance(frames: ActivityFrames, speech: readonly Run[]): Sibilance {
  const none: Sibilance = { sibilanceDb: undefined, sharpest: [] };
  if (!holdsSharpBand(frames)) return none;
  const power = (i: number, [from, to]: readonly [number, number]) => {
    let sum = 0;
    for (let b = from; b < to; b++) sum += BAND_POWERS[frames.bands[i * BANDS + b]];
    return sum;
  };
  const hisses: { at: number; power: number }[] = [];
  let [vowels, vowelFrames] = [0, 0];
  for (const { start, end } of speech) {
    for (let i = start; i < end; i++) {
      const [low, middle, sharp] = [power(i, LOW), power(i, MIDDLE), power(i, SHARP)];
      if (sharp > low + middle) hisses.push({ at: i, power: sharp });
      else if (middle > sharp && low > sharp) {
        vowels += middle;
        vowelFrames++;
      }
    }
  }
  if (hisses.length < LEAST_FRAMES || vowelFrames < LEAST_FRAMES) return none;
  const mean = hisses.reduce((sum, hiss) => sum + hiss.power, 0) / hisses.length;
  const vowel = vowels / vowelFrames;
  const sharpest: Sibilance['sharpest'] = [];
  for (const { at, power: own } of hisses) {
    if (own < (mean * 10 ** (SHARPER_DB / 10)) / 2) continue;
    const [startSeconds, endSeconds] = [at / FRAMES_PER_SECOND, (at + 1) / FRAMES_PER_SECOND];
    const last = sharpest.at(-1);
    if (last && startSeconds - last.endSeconds < 0.05) last.endSeconds = endSeconds;
    else if (sharpest.length < MOST_PLACES) sharpest.push({ startSeconds, endSeconds });
  }
  return { sibilanceDb: powerToDb(mean / vowel), sharpest };
}

/** Whether anything is ever there: a rate under 20 kHz has no such band. */
function holdsSharpBand({ bands, count }: ActivityFrames): boolean {
  for (let i = 0; i < count; i++) if (bands[i * BANDS + BANDS - 1] > 50) return true;
  return false;
}
