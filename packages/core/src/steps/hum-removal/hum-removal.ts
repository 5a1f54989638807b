import { plainFigure } from '../../signal/figures.ts';
import { defineStep } from '../step.ts';
import type { HumFindings } from './hum-findings.ts';
import { HumStudy } from './hum-study.ts';
import { HumProcessor } from './processor.ts';
import { type HumRemovalSettings, settings } from './settings.ts';

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
  studied: ({ mainsHz }) => mainsHz,
  study: ({ mainsHz }, format) => new HumStudy(format, mainsHz as 'auto' | 50 | 60),
  start: (first, format, findings, firstFrame) => new HumProcessor(first, format, findings, firstFrame),
});
