import * as z from 'zod';
import { share } from '../../settings/settings.ts';
import { plainFigure } from '../../signal/figures.ts';
import { defineStep } from '../step.ts';
import { DeclickProcessor } from './processor.ts';

const settings = z.strictObject({
  sensitivity: share('Sensitivity', { min: 0, max: 1, default: 0.5, description: 'More finds smaller clicks.' }),
});

export type DeclickSettings = z.output<typeof settings>;

export const declick = defineStep({
  kind: 'declick',
  title: 'Declick',
  group: 'repair',
  summary: 'Finds clicks of up to 5 ms and rebuilds the sound under them from what lies around.',
  words: ['click', 'crackle', 'pop', 'tick', 'mouth noise', 'spike', 'digital error'],
  settings,
  describe: ({ sensitivity }) => `sensitivity ${plainFigure(sensitivity)}`,
  traces: { clicks: { title: 'Clicks', unit: '' } },
  start: (first: DeclickSettings, format) => new DeclickProcessor(first, format),
});
