import { differenceUnit, LIMITABLE_MEASURES } from '../measure/measurement.ts';
import { figure, signedFigure } from '../signal/figures.ts';
import type { EndsNote } from './ends.ts';
import { MOST_GAIN_DB } from './finish.ts';
import type { LimitResult } from './verdict.ts';

/** What would bring a measure inside, by the measure and the side on which it lies outside. */
const MISSING: Readonly<Record<string, (by: string) => string>> = {
  'noiseFloorDbfs over': (by) => `${by} dB more noise reduction is missing`,
  'loudnessRangeLu over': () => 'a leveller or a compressor before the finish is missing',
  'maxShortTermLufs over': (by) =>
    `the loudest passage must come down by ${by} LU against the rest: a leveller or a compressor is missing`,
  'maxMomentaryLufs over': (by) =>
    `the loudest moment must come down by ${by} LU against the rest: a compressor is missing`,
  'clippedRuns over': () => 'declip is missing, or a better recording',
  'integratedLufs under': () => 'the peak limit leaves no room: a compressor before the finish is missing',
  'rmsDbfs under': () => 'the peak limit leaves no room: a compressor before the finish is missing',
  'durationSeconds over': () => 'it must be divided',
};

/** A smaller gain explains nothing. */
const LEAST_GAIN_DB = 0.5;

/** Why a delivery is off target: each required limit that does not hold, with its figure and what is missing. */
export function reasonsOff(limits: readonly LimitResult[], gainDb: number): string[] {
  return limits
    .filter(({ required, result }) => required && result !== 'within')
    .map(({ measure, value, result, by, min, max }) => {
      const { title, unit, decimals } = LIMITABLE_MEASURES[measure];
      if (value === null || by === null) return `${title} can\u2019t be told: there is nothing to measure.`;
      const exact = decimalsThatShow(by, decimals);
      const limit = figure(result === 'over' ? max! : min!, decimals);
      const place = `${figure(value, exact)} ${unit}, ${figure(by, exact)} ${result} its limit of ${limit}`;
      const raised =
        measure === 'noiseFloorDbfs' && gainDb > LEAST_GAIN_DB ? ` after a gain of ${signedFigure(gainDb)} dB` : '';
      const isAimed = measure === 'integratedLufs' || measure === 'rmsDbfs';
      const missing =
        isAimed && result === 'under' && gainDb >= MOST_GAIN_DB
          ? `it needs more than ${figure(MOST_GAIN_DB, 0)} dB of gain, and no more is given; record it louder`
          : MISSING[`${measure} ${result}`]?.(figure(by, 1));
      return `${title} is ${place}${raised}${missing ? `: ${missing}` : ''}.`;
    });
}

/** In a few words, the required limit that is missed by most: "Noise floor over by 3.2 dB, 1 more". Empty where none is missed. */
export function missedText(limits: readonly LimitResult[]): string {
  const missed = limits.filter(({ required, result }) => required && result !== 'within');
  const [worst] = missed.toSorted((a, b) => (b.by ?? Number.POSITIVE_INFINITY) - (a.by ?? Number.POSITIVE_INFINITY));
  if (!worst) return '';
  const { title, unit, decimals } = LIMITABLE_MEASURES[worst.measure];
  // the space before the unit does not break, so that a figure never stands apart from its unit
  const by = worst.by === null ? '' : ` by ${figure(worst.by, Math.max(1, decimals))}\u00a0${differenceUnit(unit)}`;
  return `${title} ${worst.result}${by}${missed.length > 1 ? `, ${missed.length - 1} more` : ''}`;
}

/** So many that a difference is not written as nothing. */
const decimalsThatShow = (difference: number, usual: number): number =>
  Math.max(usual, Math.min(4, Math.ceil(-Math.log10(Math.abs(difference)))));

/** What the finish did to the ends, in words. */
export function endsText({ headSeconds, tailSeconds, filledWith }: EndsNote): string {
  const part = (name: string, seconds: number) =>
    seconds ? [`${name} ${seconds > 0 ? 'lengthened' : 'cut'} by ${figure(Math.abs(seconds), 2)} s`] : [];
  const parts = [...part('head', headSeconds), ...part('tail', tailSeconds)].join(', ');
  if (!filledWith) return parts;
  return filledWith === 'room tone'
    ? `${parts}, filled with its own room tone`
    : `${parts}, filled with silence: it has no usable room tone`;
}
