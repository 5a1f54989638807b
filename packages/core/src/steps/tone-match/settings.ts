import * as z from 'zod';
import { decibels, hertz, settingsOf, share } from '../../settings/settings.ts';
import type { Findings } from '../step.ts';

const bandLevel = z.strictObject({
  frequencyHz: hertz('Frequency', { min: 10, max: 24000, default: 1000 }),
  levelDb: decibels('Level', { min: -200, max: 60, default: -60 }),
});

export const settings = settingsOf(() => ({
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
}));

export type ToneMatchSettings = z.output<typeof settings>;

/** The recording's long-term spectrum where somebody speaks, as it arrives at the step. */
export interface HeardSpectrum extends Findings {
  readonly centresHz: readonly number[];
  readonly levelsDb: readonly (number | null)[];
}

export const SILENCE: HeardSpectrum = { centresHz: [], levelsDb: [] };
