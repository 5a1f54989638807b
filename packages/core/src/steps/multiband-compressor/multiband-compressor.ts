import { hertzFigure, plainFigure } from '../../signal/figures.ts';
import { defineStep } from '../step.ts';
import { MultibandProcessor } from './processor.ts';
import { type MultibandSettings, settings } from './settings.ts';

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
