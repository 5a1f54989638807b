import * as z from 'zod';
import { SpectrumMeter } from '../../measure/spectrum.ts';
import { decibels, hertz, share } from '../../settings/settings.ts';
import { hertzFigure, plainFigure } from '../../signal/figures.ts';
import { CurveFilter } from '../curve-filter.ts';
import { defineStep, type Findings } from '../step.ts';
import { matchCurve } from './match-curve.ts';

const bandLevel = z.strictObject({
  frequencyHz: hertz('Frequency', { min: 10, max: 24000, default: 1000 }),
  levelDb: decibels('Level', { min: -200, max: 60, default: -60 }),
});

const settings = z.strictObject({
  reference: z.array(bandLevel).max(128).default([]).meta({
    title: 'Reference',
    item: 'Band',
    spectrum: true,
    description:
      'The long-term spectrum whose shape is wanted, in bands of constant width in octaves. Empty: nothing changes.',
  }),
  amount: share('Amount', { min: 0, max: 1, default: 1, description: 'How far of the way to the reference.' }),
  rangeDb: decibels('Range', {
    min: 0,
    max: 24,
    default: 12,
    description: 'No band is raised or lowered by more than this against the others.',
  }),
});

export type ToneMatchSettings = z.output<typeof settings>;

/** The recording's long-term spectrum where somebody speaks, as it arrives at the step. */
export interface HeardSpectrum extends Findings {
  readonly centresHz: readonly number[];
  readonly levelsDb: readonly (number | null)[];
}

const SILENCE: HeardSpectrum = { centresHz: [], levelsDb: [] };

export const toneMatch = defineStep<ToneMatchSettings, HeardSpectrum>({
  kind: 'tone-match',
  title: 'Tone match',
  group: 'tone',
  summary:
    'Brings the long-term spectrum to the shape of a reference, so that recordings of different days sound alike.',
  words: ['match', 'reference', 'spectrum', 'same sound', 'another day', 'microphone', 'equaliser', 'tone'],
  settings,
  describe: ({ reference, amount, rangeDb }) => {
    if (reference.length < 2) return 'no reference';
    const hz = reference.map(({ frequencyHz }) => frequencyHz);
    const span = `${hertzFigure(Math.min(...hz))} to ${hertzFigure(Math.max(...hz))}`;
    return `${plainFigure(100 * amount)} % of the way, \u00b1${plainFigure(rangeDb)} dB, ${span}`;
  },
  needsStudy: ({ reference }) => reference.length >= 2,
  study: (_, format) => {
    const meter = new SpectrumMeter(format);
    return {
      hear: (block) => meter.hear(block),
      conclude: () => {
        const { centresHz, loudDb } = meter.conclude();
        return { centresHz, levelsDb: loudDb };
      },
    };
  },
  curves: { response: (now, findings) => matchCurve(now, { ...SILENCE, ...findings }) },
  start: (first, format, findings) =>
    new CurveFilter(first, format, (now) => matchCurve(now, { ...SILENCE, ...findings })),
});
