import { plainFigure, signedFigure } from '../../signal/figures.ts';
import { defineStep } from '../step.ts';
import { gainReductionDb } from './gain-computer.ts';
import { CompressorProcessor } from './processor.ts';
import { type CompressorSettings, settings } from './settings.ts';

export const compressor = defineStep({
  kind: 'compressor',
  title: 'Compressor',
  group: 'dynamics',
  summary: 'Turns loud passages down, so that the whole can be made louder.',
  words: ['uneven', 'even out', 'dense', 'punch', 'loud and quiet', 'dynamics', 'squeeze'],
  settings,
  traits: {
    ridesLevel: true,
    compresses: { over: 'thresholdDb', ratio: 'ratio' },
    raisesDb: ({ makeupDb }) => makeupDb,
  },
  describe: (s) =>
    `${plainFigure(s.ratio)} : 1 over ${plainFigure(s.thresholdDb)} dB, ${plainFigure(s.attackMs)}/${plainFigure(s.releaseMs)} ms${s.makeupDb ? `, ${signedFigure(s.makeupDb)} dB` : ''}`,
  curves: {
    transfer: (s) => (levelDb) => levelDb - gainReductionDb(levelDb, s.thresholdDb, s.ratio, s.kneeDb) + s.makeupDb,
  },
  traces: { gainReductionDb: { title: 'Gain reduction', unit: 'dB' } },
  start: (first: CompressorSettings, format) => new CompressorProcessor(first, format),
});
