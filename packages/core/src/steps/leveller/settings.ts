import type * as z from 'zod';
import { decibels, loudnessUnits, seconds, settingsOf } from '../../settings/settings.ts';

export const settings = settingsOf(() => ({
  shortTermLufs: loudnessUnits('Level', {
    min: -40,
    max: -10,
    default: -18,
    description: 'Where the speech is brought to.',
  }),
  rangeDb: decibels('Range', { min: 0, max: 24, default: 10, description: 'It is turned up or down by no more.' }),
  speedSeconds: seconds('Speed', {
    min: 0.5,
    max: 10,
    default: 2,
    description: 'How long a stretch of speech the level is read over: shorter evens out more.',
  }),
}));

export type LevellerSettings = z.output<typeof settings>;
