import { hertzFigure, plainFigure } from '../../signal/figures.ts';
import { defineStep } from '../step.ts';
import { DeEsserProcessor } from './processor.ts';
import { type DeEsserSettings, settings } from './settings.ts';

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
