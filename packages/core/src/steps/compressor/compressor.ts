import * as z from 'zod';
import { choice, decibels, decibelsFullScale, milliseconds, ratio } from '../../settings/settings.ts';
import { plainFigure, signedFigure } from '../../signal/figures.ts';
import { defineStep } from '../step.ts';
import { gainReductionDb } from './gain-computer.ts';
import { CompressorProcessor } from './processor.ts';

const settings = z.strictObject({
  thresholdDb: decibelsFullScale('Threshold', { min: -60, max: 0, default: -18 }),
  ratio: ratio('Ratio', { min: 1, max: 20, default: 3 }),
  kneeDb: decibels('Knee', { min: 0, max: 24, default: 6 }),
  attackMs: milliseconds('Attack', { min: 0.1, max: 200, default: 10 }),
  releaseMs: milliseconds('Release', { min: 5, max: 2000, default: 120 }),
  makeupDb: decibels('Make-up', { min: 0, max: 24, default: 0 }),
  detector: choice('Detector', ['peak', 'rms'], { default: 'rms', labels: { peak: 'Peak', rms: 'RMS' } }),
});

export type CompressorSettings = z.output<typeof settings>;

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
