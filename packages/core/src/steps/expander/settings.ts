import type * as z from 'zod';
import { decibels, decibelsFullScale, milliseconds, ratio, settingsOf } from '../../settings/settings.ts';

export const settings = settingsOf(() => ({
  thresholdDb: decibelsFullScale('Threshold', { min: -90, max: 0, default: -50 }),
  ratio: ratio('Ratio', { min: 1, max: 20, default: 2 }),
  rangeDb: decibels('Range', { min: 0, max: 80, default: 20, description: 'No sound is turned down by more.' }),
  attackMs: milliseconds('Attack', { min: 0.1, max: 200, default: 2, description: 'How fast it opens.' }),
  holdMs: milliseconds('Hold', { min: 1, max: 2000, default: 80, description: 'How long it stays open.' }),
  releaseMs: milliseconds('Release', { min: 5, max: 2000, default: 150, description: 'How fast it closes.' }),
}));

export type ExpanderSettings = z.output<typeof settings>;
