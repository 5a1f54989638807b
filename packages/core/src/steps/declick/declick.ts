import * as z from 'zod';
import { choice, share } from '../../settings/settings.ts';
import { plainFigure } from '../../signal/figures.ts';
import { defineStep } from '../step.ts';
import { DeclickProcessor } from './processor.ts';

const settings = z.strictObject({
  clicks: choice('Clicks', ['both', 'digital', 'mouth'], {
    default: 'both',
    labels: { both: 'Digital and mouth', digital: 'Digital only', mouth: 'Mouth only' },
    description: 'Digital: single samples and jumps. Mouth: the smack of lips and tongue.',
  }),
  sensitivity: share('Sensitivity', { min: 0, max: 1, default: 0.5, description: 'More finds smaller clicks.' }),
});

export type DeclickSettings = z.output<typeof settings>;

export const declick = defineStep({
  kind: 'declick',
  title: 'Declick',
  group: 'repair',
  summary:
    'Rebuilds the sound under digital clicks, and takes the smack of lips and tongue down to what lies around it.',
  words: ['click', 'crackle', 'pop', 'tick', 'mouth noise', 'spike', 'digital error'],
  settings,
  traits: { needsWaveAsRecorded: true },
  describe: ({ clicks, sensitivity }) =>
    `${clicks === 'both' ? '' : `${clicks} only, `}sensitivity ${plainFigure(sensitivity)}`,
  traces: { clicks: { title: 'Clicks', unit: '' } },
  start: (first: DeclickSettings, format) => new DeclickProcessor(first, format),
});
