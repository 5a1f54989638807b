import { plainFigure } from '../../signal/figures.ts';
import { defineStep } from '../step.ts';
import { DeclickProcessor } from './processor.ts';
import { type DeclickSettings, settings } from './settings.ts';

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
