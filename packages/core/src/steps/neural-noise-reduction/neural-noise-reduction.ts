import { plainFigure } from '../../signal/figures.ts';
import { defineStep } from '../step.ts';
import { NeuralNoiseReductionProcessor } from './processor.ts';
import { type NeuralNoiseReductionSettings, settings } from './settings.ts';

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
