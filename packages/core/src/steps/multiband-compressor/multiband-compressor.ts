import * as z from 'zod';
import { hertz } from '../../settings/settings.ts';
import { hertzFigure, plainFigure } from '../../signal/figures.ts';
import { compressor } from '../compressor/compressor.ts';
import { defineStep } from '../step.ts';
import { MultibandProcessor } from './processor.ts';

const settings = z.strictObject({
  crossoversHz: z
    .array(hertz('Crossover', { min: 40, max: 16000, default: 1000 }))
    .min(1)
    .max(4)
    .default([250, 2500])
    .meta({ title: 'Crossovers', item: 'Crossover' }),
  bands: z
    .array(compressor.settings)
    .max(5)
    .default(() => [0, 1, 2].map(() => compressor.settings.parse({})))
    .meta({ title: 'Bands from the lowest', item: 'Band' }),
});

export type MultibandSettings = z.output<typeof settings>;

export const multibandCompressor = defineStep({
  kind: 'multiband-compressor',
  title: 'Multiband compressor',
  group: 'dynamics',
  summary: 'Compresses parts of the spectrum each by itself. A band that is not listed passes as it is.',
  words: ['bands', 'boomy', 'proximity', 'tame', 'uneven tone', 'multiband'],
  settings,
  traits: { ridesLevel: true },
  describe: ({ crossoversHz, bands }) =>
    `cut at ${crossoversHz.map(hertzFigure).join(', ')}; ${bands.map(({ ratio }) => plainFigure(ratio)).join(', ')} : 1`,
  traces: { gainReductionDb: { title: 'Gain reduction', unit: 'dB' } },
  start: (first: MultibandSettings, format) => new MultibandProcessor(first, format),
});
