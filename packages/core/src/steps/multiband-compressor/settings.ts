import * as z from 'zod';
import { hertz, settingsOf } from '../../settings/settings.ts';
import { settings as compressorSettings } from '../compressor/settings.ts';

export const settings = settingsOf(() => ({
  crossoversHz: z
    .array(hertz('Crossover', { min: 40, max: 16000, default: 1000 }))
    .min(1)
    .max(4)
    .default([250, 2500])
    .meta({ title: 'Crossovers', item: 'Crossover' }),
  bands: z
    .array(compressorSettings)
    .max(5)
    .default(() => [0, 1, 2].map(() => compressorSettings.parse({})))
    .meta({ title: 'Bands from the lowest', item: 'Band' }),
}));

export type MultibandSettings = z.output<typeof settings>;
