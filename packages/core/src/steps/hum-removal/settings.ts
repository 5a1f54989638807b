import type * as z from 'zod';
import { decibels, number, oneOfWords, settingsOf } from '../../settings/settings.ts';

export const settings = settingsOf(() => ({
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
}));

export type HumRemovalSettings = z.output<typeof settings>;
