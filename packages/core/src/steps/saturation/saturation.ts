import * as z from 'zod';
import { choice, decibels } from '../../settings/settings.ts';
import { plainFigure } from '../../signal/figures.ts';
import { defineStep } from '../step.ts';
import { SaturationProcessor } from './processor.ts';

const settings = z.strictObject({
  driveDb: decibels('Drive', {
    min: 0,
    max: 24,
    default: 6,
    description: 'How far the sound is pushed into the curve.',
  }),
  character: choice('Character', ['even', 'odd'], {
    default: 'even',
    labels: { even: 'Even', odd: 'Odd' },
    description: 'Even harmonics thicken, odd ones edge.',
  }),
});

export type SaturationSettings = z.output<typeof settings>;

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
