import { plainFigure } from '../../signal/figures.ts';
import { defineStep } from '../step.ts';
import { SaturationProcessor } from './processor.ts';
import { type SaturationSettings, settings } from './settings.ts';

export const saturation = defineStep({
  kind: 'saturation',
  title: 'Saturation',
  group: 'tone',
  summary: 'Adds harmonics by a soft curve: warmth for a thin voice. Quiet sounds keep their level, peaks are rounded.',
  words: ['warm', 'warmth', 'thin', 'harmonics', 'tape', 'tube', 'drive', 'distortion'],
  settings,
  traits: { bendsWave: true },
  describe: ({ driveDb, character }) => `${plainFigure(driveDb)} dB into the ${character} curve`,
  start: (first: SaturationSettings, format) => new SaturationProcessor(first, format),
});
