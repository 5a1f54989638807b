import type * as z from 'zod';
import { choice, decibels, settingsOf } from '../../settings/settings.ts';

export const settings = settingsOf(() => ({
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
}));

export type SaturationSettings = z.output<typeof settings>;
