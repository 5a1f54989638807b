import type { LimitableMeasure } from '../measure/measurement.ts';

/**
 * Which of many like things departs from the rest: by the distance from the median in robust standard deviations (1.4826 times the
 * median absolute deviation; Iglewicz and Hoaglin, 1993), which a few outliers do not move.
 */
export interface Departure {
  /** Place in the list that was given. */
  index: number;
  value: number;
  median: number;
  /** Robust standard deviations from the median, signed. */
  deviations: number;
}

/** Differences under these are heard by nobody: of what makes a chapter stand out, in the measure's own unit. */
export const LEAST_DIFFERENCES = {
  integratedLufs: 1,
  rmsDbfs: 1,
  noiseFloorDbfs: 4,
  loudnessRangeLu: 3,
  truePeakDbtp: 1,
  crestDb: 3,
  durationSeconds: 60,
} as const satisfies Partial<Record<LimitableMeasure, number>>;

const MAD_TO_SIGMA = 1.4826;
const LEAST_COUNT = 4;
/** Iglewicz and Hoaglin's. */
const MOST_DEVIATIONS = 3.5;

/** The one in the middle, or the mean of both; NaN where there is none. */
export const medianOf = (values: readonly number[]): number => {
  const sorted = [...values].sort((a, b) => a - b);
  const middle = sorted.length >> 1;
  return sorted.length % 2 ? sorted[middle] : (sorted[middle - 1] + sorted[middle]) / 2;
};

/**
 * @param values null where there is none; fewer than four tell nothing
 * @param leastDifference a smaller difference is heard by nobody, however even the rest is
 */
export function departures(values: readonly (number | null)[], leastDifference: number): Departure[] {
  const known = values.flatMap((value, index) => (value === null ? [] : [{ value, index }]));
  if (known.length < LEAST_COUNT) return [];
  const median = medianOf(known.map(({ value }) => value));
  const sigma = MAD_TO_SIGMA * medianOf(known.map(({ value }) => Math.abs(value - median)));
  return known
    .map(({ value, index }) => ({
      index,
      value,
      median,
      deviations: (value - median) / Math.max(sigma, leastDifference / MOST_DEVIATIONS),
    }))
    .filter(
      ({ value, deviations }) => Math.abs(deviations) > MOST_DEVIATIONS && Math.abs(value - median) >= leastDifference,
    );
}
