import { compressor } from './compressor/compressor.ts';
import { gain } from './gain/gain.ts';
import { highPass } from './high-pass/high-pass.ts';
import { limiter } from './limiter/limiter.ts';
import { loudnessNormalise } from './loudness-normalise/loudness-normalise.ts';
import { lowPass } from './low-pass/low-pass.ts';
import { noiseReduction } from './noise-reduction/noise-reduction.ts';
import { parametricEq } from './parametric-eq/parametric-eq.ts';
import { peakNormalise } from './peak-normalise/peak-normalise.ts';
import { rmsNormalise } from './rms-normalise/rms-normalise.ts';
import type { AnyStep } from './step.ts';

/** Every step kind there is, in the usual order of a chain. Forms, command, API and docs read this list. */
export const STEPS: readonly AnyStep[] = [
  noiseReduction,
  highPass,
  lowPass,
  parametricEq,
  compressor,
  gain,
  peakNormalise,
  rmsNormalise,
  loudnessNormalise,
  limiter,
];

const byKind = new Map(STEPS.map((step) => [step.kind, step]));

export const stepOfKind = (kind: string): AnyStep | undefined => byKind.get(kind);
