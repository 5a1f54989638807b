import type * as z from 'zod';
import { settingsOf, share } from '../../settings/settings.ts';

export const settings = settingsOf(() => ({
  strength: share('Strength', {
    min: 0,
    max: 1,
    default: 1,
    description: 'How much of what the network calls noise is taken away; 0 takes nothing.',
  }),
}));

export type NeuralNoiseReductionSettings = z.output<typeof settings>;
