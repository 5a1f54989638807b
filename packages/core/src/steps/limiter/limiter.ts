import { figure, plainFigure, signedFigure } from '../../signal/figures.ts';
import { defineStep } from '../step.ts';
import { LimiterProcessor } from './processor.ts';
import { type LimiterSettings, settings } from './settings.ts';

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
