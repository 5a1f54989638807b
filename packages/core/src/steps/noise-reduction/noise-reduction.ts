import { plainFigure } from '../../signal/figures.ts';
import { defineStep } from '../step.ts';
import { NoiseProfiler } from './noise-profile.ts';
import { NoiseReductionProcessor } from './processor.ts';
import { type NoiseReductionFindings, type NoiseReductionSettings, settings } from './settings.ts';

export const noiseReduction = defineStep<NoiseReductionSettings, NoiseReductionFindings>({
  kind: 'noise-reduction',
  title: 'Noise reduction',
  group: 'repair',
  summary:
    'Takes steady noise down: hiss, fans, air conditioning. The noise is learned from each recording\u2019s own room tone.',
  words: ['hiss', 'fan', 'air conditioning', 'denoise', 'room', 'background', 'hum', 'floor'],
  settings,
  traits: {
    bendsWave: true,
    reducesNoiseBy: 'reductionDb',
    usesRoomTone: ({ method }) => method !== 'adaptive',
    unstudied: { method: 'adaptive' },
  },
  describe: ({ reductionDb, method }) =>
    `${plainFigure(reductionDb)} dB, ${method === 'adaptive' ? 'adaptive' : 'own room tone'}`,
  studied: ({ method }) => method,
  study: ({ method }, format, { roomTone }) => {
    if (method === 'adaptive') return { hear: () => {}, conclude: () => ({ method: 'adaptive' }) };
    const profiler = new NoiseProfiler(format, roomTone);
    return {
      hear: (block) => profiler.hear(block),
      conclude: () => {
        const profile = profiler.conclude();
        if (!profile) {
          return {
            method: 'adaptive',
            note: 'No usable room tone was found in this recording; the adaptive method was used instead.',
          };
        }
        return { method: 'room-tone', regions: profile.regions, noisePowers: profile.powers };
      },
    };
  },
  start: (first, format, findings) => new NoiseReductionProcessor(first, format, findings),
});
