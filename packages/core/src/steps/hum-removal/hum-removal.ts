import * as z from 'zod';
import { decibels, number, oneOfWords } from '../../settings/settings.ts';
import { plainFigure } from '../../signal/figures.ts';
import { defineStep } from '../step.ts';
import type { HumFindings } from './hum-findings.ts';
import { HumStudy } from './hum-study.ts';
import { HumProcessor } from './processor.ts';

const settings = z.strictObject({
  mainsHz: oneOfWords('Mains', ['auto', 50, 60], 'auto', { auto: 'Find it', 50: '50 Hz', 60: '60 Hz' }),
  harmonics: number(
    '',
    'linear',
    1,
  )('Harmonics', {
    min: 1,
    max: 40,
    default: 12,
    description: 'How many multiples of the mains frequency are looked for; only those that are there are taken.',
  }),
  depthDb: decibels('Depth', {
    min: 0,
    max: 60,
    default: 40,
    description: 'Each line goes down by this, as far as it can be followed.',
  }),
});

export type HumRemovalSettings = z.output<typeof settings>;

export const humRemoval = defineStep<HumRemovalSettings, HumFindings>({
  kind: 'hum-removal',
  title: 'Hum removal',
  group: 'repair',
  summary:
    'Takes mains hum and its harmonics out, each line by its own opposite: the voice beside them is not touched.',
  words: ['hum', 'mains', 'buzz', '50 hz', '60 hz', 'ground loop', 'electric'],
  settings,
  describe: ({ mainsHz, harmonics, depthDb }) =>
    `${mainsHz === 'auto' ? 'mains found' : `${mainsHz} Hz`}, ${plainFigure(harmonics)} harmonics, ${plainFigure(depthDb)} dB`,
  findingsInTime: true,
  study: ({ mainsHz }, format) => new HumStudy(format, mainsHz as 'auto' | 50 | 60),
  start: (first, format, findings, firstFrame) => new HumProcessor(first, format, findings, firstFrame),
});
