import type { LimitableMeasure, SoundFigures } from '../measure/measurement.ts';
import type { Limit } from './target-file.ts';

export interface LimitResult {
  measure: LimitableMeasure;
  min: number | null;
  max: number | null;
  value: number | null;
  result: 'within' | 'over' | 'under';
  /** How far outside, in the measure's unit; 0 within; null where there is no value. */
  by: number | null;
  required: boolean;
}

export type Verdict = 'within' | 'off-target';

/** A measure that does not exist can't be within: silence has no loudness, and counts as under. */
function judgeLimit({ measure, min, max, required }: Limit, figures: SoundFigures): LimitResult {
  const value = figures[measure];
  const shape = { measure, min, max, value, required };
  if (value === null) return { ...shape, result: min === null ? 'within' : 'under', by: min === null ? 0 : null };
  if (max !== null && value > max) return { ...shape, result: 'over', by: value - max };
  if (min !== null && value < min) return { ...shape, result: 'under', by: min - value };
  return { ...shape, result: 'within', by: 0 };
}

/** Every limit against the figures; the verdict looks at the required ones. */
export function judge(limits: readonly Limit[], figures: SoundFigures): { verdict: Verdict; limits: LimitResult[] } {
  const results = limits.map((one) => judgeLimit(one, figures));
  // digital silence has no floor and no peak that could be over, and still is no delivery
  const silent = figures.rmsDbfs === null;
  const off = silent || results.some((one) => one.required && one.result !== 'within');
  return { verdict: off ? 'off-target' : 'within', limits: results };
}
