import type * as z from 'zod';
import { decibels, hertz, settingsOf } from '../../settings/settings.ts';

export const settings = settingsOf(() => ({
  frequencyHz: hertz('From', {
    min: 2000,
    max: 12000,
    default: 6000,
    description: 'Lower edge of the band of the s sounds.',
  }),
  thresholdDb: decibels('Threshold', {
    min: -60,
    max: 0,
    default: -30,
    description:
      'Level of the band against the whole, above which it is turned down: the same for loud and quiet voices.',
  }),
  rangeDb: decibels('Range', { min: 0, max: 24, default: 8, description: 'The band is turned down by no more.' }),
}));

export type DeEsserSettings = z.output<typeof settings>;
