import type * as z from 'zod';
import { choice, decibels, decibelsFullScale, milliseconds, ratio, settingsOf } from '../../settings/settings.ts';

export const settings = settingsOf(() => ({
  thresholdDb: decibelsFullScale('Threshold', { min: -60, max: 0, default: -18 }),
  ratio: ratio('Ratio', { min: 1, max: 20, default: 3 }),
  kneeDb: decibels('Knee', { min: 0, max: 24, default: 6 }),
  attackMs: milliseconds('Attack', { min: 0.1, max: 200, default: 10 }),
  releaseMs: milliseconds('Release', { min: 5, max: 2000, default: 120 }),
  makeupDb: decibels('Make-up', { min: 0, max: 24, default: 0 }),
  detector: choice('Detector', ['peak', 'rms'], { default: 'rms', labels: { peak: 'Peak', rms: 'RMS' } }),
}));

export type CompressorSettings = z.output<typeof settings>;
