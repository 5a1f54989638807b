import * as z from 'zod';
import { decibels, decibelsFullScale, milliseconds, ratio } from '../../settings/settings.ts';
import { plainFigure } from '../../signal/figures.ts';
import { defineStep } from '../step.ts';
import { ExpanderProcessor, expansionDb } from './processor.ts';

const settings = z.strictObject({
  thresholdDb: decibelsFullScale('Threshold', { min: -90, max: 0, default: -50 }),
  ratio: ratio('Ratio', { min: 1, max: 20, default: 2 }),
  rangeDb: decibels('Range', { min: 0, max: 80, default: 20, description: 'No sound is turned down by more.' }),
  attackMs: milliseconds('Attack', { min: 0.1, max: 200, default: 2, description: 'How fast it opens.' }),
  holdMs: milliseconds('Hold', { min: 1, max: 2000, default: 80, description: 'How long it stays open.' }),
  releaseMs: milliseconds('Release', { min: 5, max: 2000, default: 150, description: 'How fast it closes.' }),
});

export type ExpanderSettings = z.output<typeof settings>;

export const expander = defineStep({
  kind: 'expander',
  title: 'Expander',
  group: 'dynamics',
  summary: 'Turns down what lies under a level: room between words, spill from another microphone.',
  words: ['gate', 'noise gate', 'spill', 'bleed', 'room between words', 'breath', 'quiet parts'],
  settings,
  traits: { ridesLevel: true, closesUnder: 'thresholdDb' },
  describe: (s) =>
    `1 : ${plainFigure(s.ratio)} under ${plainFigure(s.thresholdDb)} dB, at most ${plainFigure(s.rangeDb)} dB`,
  curves: { transfer: (s) => (levelDb) => levelDb - expansionDb(levelDb, s) },
  traces: { gainReductionDb: { title: 'Gain reduction', unit: 'dB' } },
  start: (first: ExpanderSettings, format) => new ExpanderProcessor(first, format),
});
