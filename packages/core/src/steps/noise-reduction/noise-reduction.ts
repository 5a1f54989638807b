import * as z from 'zod';
import { choice, decibels, share } from '../../settings/settings.ts';
import { plainFigure } from '../../signal/figures.ts';
import { defineStep, type Findings } from '../step.ts';
import { NoiseProfiler } from './noise-profile.ts';
import { NoiseReductionProcessor } from './processor.ts';

const settings = z.strictObject({
  reductionDb: decibels('Reduction', {
    min: 0,
    max: 40,
    default: 12,
    description: 'How far the noise in the pauses goes down.',
  }),
  marginDb: decibels('Margin', {
    min: 0,
    max: 12,
    default: 3,
    description: 'How far above the room tone still counts as noise.',
  }),
  smoothing: share('Smoothing', {
    min: 0,
    max: 1,
    default: 0.5,
    description: 'More leaves a calmer rest, less keeps finer detail.',
  }),
  method: choice('Noise from', ['room-tone', 'adaptive'], {
    default: 'room-tone',
    labels: { 'room-tone': 'Room tone', adaptive: 'Adaptive' },
    description: 'The recording\u2019s own room tone, or followed while it runs.',
  }),
});

export type NoiseReductionSettings = z.output<typeof settings>;

export interface NoiseReductionFindings extends Findings {
  readonly method: 'room-tone' | 'adaptive';
  readonly note?: string;
  readonly regions?: readonly { startSeconds: number; endSeconds: number; rmsDbfs: number }[];
  /** Mean |X|^2 of the room tone by channel and bin of the step's own transform. */
  readonly noisePowers?: readonly (readonly number[])[];
}

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
