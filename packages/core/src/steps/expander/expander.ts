import { plainFigure } from '../../signal/figures.ts';
import { defineStep } from '../step.ts';
import { ExpanderProcessor, expansionDb } from './processor.ts';
import { type ExpanderSettings, settings } from './settings.ts';

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
