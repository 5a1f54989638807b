import * as z from 'zod';
import { decibels, decibelsTruePeak, milliseconds } from '../../settings/settings.ts';
import { figure, plainFigure, signedFigure } from '../../signal/figures.ts';
import { defineStep } from '../step.ts';
import { LimiterProcessor } from './processor.ts';

const settings = z.strictObject({
  ceilingDbtp: decibelsTruePeak('Ceiling', { min: -20, max: 0, default: -1 }),
  lookaheadMs: milliseconds('Look-ahead', { min: 0.5, max: 20, default: 5 }),
  releaseMs: milliseconds('Release', { min: 10, max: 1000, default: 100 }),
  inputGainDb: decibels('Input gain', { min: 0, max: 24, default: 0 }),
});

export type LimiterSettings = z.output<typeof settings>;

export const limiter = defineStep({
  kind: 'limiter',
  title: 'Limiter',
  group: 'dynamics',
  summary: 'Holds the true peak under a ceiling; what lies below is left as it is.',
  words: ['true peak', 'ceiling', 'clip', 'overs', 'maximise', 'brickwall'],
  settings,
  traits: { ridesLevel: true, holdsPeaksUnder: 'ceilingDbtp' },
  describe: (s) =>
    `ceiling ${figure(s.ceilingDbtp)} dBTP, ${plainFigure(s.lookaheadMs)} ms ahead${s.inputGainDb ? `, input ${signedFigure(s.inputGainDb)} dB` : ''}`,
  curves: { transfer: (s) => (levelDb) => Math.min(s.ceilingDbtp, levelDb + s.inputGainDb) },
  traces: { gainReductionDb: { title: 'Gain reduction', unit: 'dB' } },
  start: (first: LimiterSettings, format) => new LimiterProcessor(first, format),
});
