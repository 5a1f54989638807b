import type * as z from 'zod';
import { choice, decibels, settingsOf, share } from '../../settings/settings.ts';
import type { Findings } from '../step.ts';

export const settings = settingsOf(() => ({
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
}));

export type NoiseReductionSettings = z.output<typeof settings>;

export interface NoiseReductionFindings extends Findings {
  readonly method: 'room-tone' | 'adaptive';
  readonly note?: string;
  readonly regions?: readonly { startSeconds: number; endSeconds: number; rmsDbfs: number }[];
  /** Mean |X|^2 of the room tone by channel and bin of the step's own transform. */
  readonly noisePowers?: readonly (readonly number[])[];
}
