import * as z from 'zod';
import { Crossfaded } from '../../dsp/crossfaded.ts';
import { FilterCascade } from '../../dsp/filter-cascade.ts';
import { decibels, number, oneOfWords } from '../../settings/settings.ts';
import { plainFigure } from '../../signal/figures.ts';
import { defineStep, type Findings } from '../step.ts';
import { dipSection } from './dip-section.ts';
import { type HumLine, HumStudy } from './hum-study.ts';

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
    description: 'A line goes down by this, or to the floor around it.',
  }),
});

export type HumRemovalSettings = z.output<typeof settings>;

export interface HumFindings extends Findings {
  /** The mains frequency as it is in this recording, in Hz. */
  readonly mainsHz?: number;
  /** The lines that stand out, from the lowest. */
  readonly lines?: readonly HumLine[];
  readonly note?: string;
}

export const humRemoval = defineStep<HumRemovalSettings, HumFindings>({
  kind: 'hum-removal',
  title: 'Hum removal',
  group: 'repair',
  summary: 'Takes mains hum and its harmonics out, each by a dip of its own, as narrow and deep as it needs.',
  words: ['hum', 'mains', 'buzz', '50 hz', '60 hz', 'ground loop', 'electric'],
  settings,
  describe: ({ mainsHz, harmonics, depthDb }) =>
    `${mainsHz === 'auto' ? 'mains found' : `${mainsHz} Hz`}, ${plainFigure(harmonics)} harmonics, ${plainFigure(depthDb)} dB`,
  study: ({ mainsHz }, format) => {
    const study = new HumStudy(format);
    return {
      hear: (block) => study.hear(block),
      conclude: () =>
        study.conclude(mainsHz === 'auto' ? [50, 60] : [mainsHz]) ?? {
          note: 'No hum stands out of this recording; it was left as it is.',
        },
    };
  },
  start: (first, format, { lines = [], mainsHz = 0 }) =>
    new Crossfaded(first, format, ({ depthDb, harmonics }) => {
      const sections = lines
        .filter(({ hz }) => hz < 0.45 * format.sampleRateHz && Math.round(hz / mainsHz) <= harmonics)
        .map(({ hz, excessDb }) => dipSection(hz, Math.min(depthDb, excessDb), format.sampleRateHz));
      return new FilterCascade(sections, format.channels);
    }),
});
