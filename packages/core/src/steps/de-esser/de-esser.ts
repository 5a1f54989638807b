import * as z from 'zod';
import { decibels, hertz } from '../../settings/settings.ts';
import { hertzFigure, plainFigure } from '../../signal/figures.ts';
import { defineStep } from '../step.ts';
import { DeEsserProcessor } from './processor.ts';

const settings = z.strictObject({
  frequencyHz: hertz('From', {
    min: 2000,
    max: 12000,
    default: 6000,
    description: 'Lower edge of the band of the s sounds.',
  }),
  thresholdDb: decibels('Threshold', {
    min: -60,
    max: 0,
    default: -30,
    description:
      'Level of the band against the whole, above which it is turned down: the same for loud and quiet voices.',
  }),
  rangeDb: decibels('Range', { min: 0, max: 24, default: 8, description: 'The band is turned down by no more.' }),
});

export type DeEsserSettings = z.output<typeof settings>;

export const deEsser = defineStep({
  kind: 'de-esser',
  title: 'De-esser',
  group: 'dynamics',
  summary: 'Softens sharp s sounds and leaves everything under them alone.',
  words: ['sibilance', 'ess', 'sharp', 'too sharp', 'hissing s', 'harsh', 'lisp'],
  settings,
  describe: ({ frequencyHz, thresholdDb, rangeDb }) =>
    `from ${hertzFigure(frequencyHz)}, over ${plainFigure(thresholdDb)} dB of the whole, at most ${plainFigure(rangeDb)} dB`,
  traces: { gainReductionDb: { title: 'Gain reduction', unit: 'dB' } },
  start: (first: DeEsserSettings, format) => new DeEsserProcessor(first, format),
});
