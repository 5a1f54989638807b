import type { LedgerFigures } from '../chain/ledger.ts';
import type { Measurement, SoundFigures } from '../measure/measurement.ts';
import { levelAimedFor } from './aim.ts';
import { firstPlan } from './finish.ts';
import type { Limit, TargetFile } from './target-file.ts';
import { judge, type LimitResult } from './verdict.ts';

/** What the finish will make of a signal whose figures are known: before anything is rendered. */
export interface Forecast {
  /** The gain that brings the level to the target's aim. */
  gainDb: number;
  /** By how much the limiter will turn down the highest peak; 0 where it has nothing to do. */
  limitedDb: number;
  figures: LedgerFigures;
  /** Limits of the measures that can be foretold. */
  limits: LimitResult[];
  /** Whether every required limit that can be foretold will hold. */
  within: boolean;
}

/** A limiter that takes more than this off the peaks lowers the loudness too: then it is no longer foretold so closely. */
export const CLOSELY_FORETOLD_DB = 6;

const moved = (level: number | null, gainDb: number): number | null => (level === null ? null : level + gainDb);

/**
 * The gain moves every level alike; the limiter caps the peaks and little else. What neither changes (range) stays.
 * @param sound figures after the chain; `clippedRuns` and durations are judged where they are given
 */
export function forecast(
  target: TargetFile,
  sound: LedgerFigures & Partial<Pick<Measurement, 'clippedRuns' | 'durationSeconds'>>,
): Forecast {
  const { gainDb, ceilingDbtp } = firstPlan(target, levelAimedFor(target, sound));
  const raisedPeak = moved(sound.truePeakDbtp, gainDb);
  const limitedDb = raisedPeak === null || ceilingDbtp === undefined ? 0 : Math.max(0, raisedPeak - ceilingDbtp);
  const capped = (level: number | null) =>
    level === null || ceilingDbtp === undefined ? level : Math.min(level, ceilingDbtp);
  const figures: LedgerFigures = {
    integratedLufs: moved(sound.integratedLufs, gainDb),
    maxShortTermLufs: moved(sound.maxShortTermLufs, gainDb),
    loudnessRangeLu: sound.loudnessRangeLu,
    truePeakDbtp: capped(raisedPeak),
    samplePeakDbfs: capped(moved(sound.samplePeakDbfs, gainDb)),
    rmsDbfs: moved(sound.rmsDbfs, gainDb),
    noiseFloorDbfs: moved(sound.noiseFloorDbfs, gainDb),
  };
  const known = { ...figures, ...given(sound) };
  const judged = judge(
    target.limits.filter(({ measure }: Limit) => measure in known),
    known as SoundFigures,
  );
  return { gainDb, limitedDb, figures, limits: judged.limits, within: judged.verdict === 'within' };
}

const given = ({ clippedRuns, durationSeconds }: Partial<Pick<Measurement, 'clippedRuns' | 'durationSeconds'>>) => ({
  ...(clippedRuns === undefined ? {} : { clippedRuns }),
  ...(durationSeconds === undefined ? {} : { durationSeconds }),
});
