import * as z from 'zod';
import { share } from '../../settings/settings.ts';
import { plainFigure } from '../../signal/figures.ts';
import { defineStep } from '../step.ts';
import { NeuralNoiseReductionProcessor } from './processor.ts';

const settings = z.strictObject({
  strength: share('Strength', {
    min: 0,
    max: 1,
    default: 1,
    description: 'How much of what the network calls noise is taken away; 0 takes nothing.',
  }),
});

export type NeuralNoiseReductionSettings = z.output<typeof settings>;

export const neuralNoiseReduction = defineStep<NeuralNoiseReductionSettings>({
  kind: 'neural-noise-reduction',
  title: 'Neural noise reduction',
  group: 'repair',
  summary:
    'A small recurrent network keeps what sounds like speech: for noise that changes, such as traffic or handling.',
  words: ['denoise', 'traffic', 'street', 'wind', 'noise', 'background', 'changing noise', 'network'],
  settings,
  describe: ({ strength }) => `strength ${plainFigure(strength)}`,
  start: (first, format) => new NeuralNoiseReductionProcessor(first, format),
});
