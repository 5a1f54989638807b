import { channels } from './channels/channels.ts';
import { compressor } from './compressor/compressor.ts';
import { custom } from './custom/custom.ts';
import { moduleOf } from './custom/named-module.ts';
import { stepOfModule } from './custom/registry.ts';
import { dcRemoval } from './dc-removal/dc-removal.ts';
import { deEsser } from './de-esser/de-esser.ts';
import { declick } from './declick/declick.ts';
import { declip } from './declip/declip.ts';
import { expander } from './expander/expander.ts';
import { fade } from './fade/fade.ts';
import { gain } from './gain/gain.ts';
import { highPass } from './high-pass/high-pass.ts';
import { humRemoval } from './hum-removal/hum-removal.ts';
import { leveller } from './leveller/leveller.ts';
import { limiter } from './limiter/limiter.ts';
import { loudnessNormalise } from './loudness-normalise/loudness-normalise.ts';
import { lowPass } from './low-pass/low-pass.ts';
import { multibandCompressor } from './multiband-compressor/multiband-compressor.ts';
import { neuralNoiseReduction } from './neural-noise-reduction/neural-noise-reduction.ts';
import { noiseReduction } from './noise-reduction/noise-reduction.ts';
import { pace } from './pace/pace.ts';
import { parametricEq } from './parametric-eq/parametric-eq.ts';
import { peakNormalise } from './peak-normalise/peak-normalise.ts';
import { plosiveRemoval } from './plosive-removal/plosive-removal.ts';
import { pointEq } from './point-eq/point-eq.ts';
import { reverb } from './reverb/reverb.ts';
import { rmsNormalise } from './rms-normalise/rms-normalise.ts';
import { saturation } from './saturation/saturation.ts';
import { shortenPauses } from './shorten-pauses/shorten-pauses.ts';
import type { AnyStep } from './step.ts';
import { toneMatch } from './tone-match/tone-match.ts';
import type { StepTraits } from './traits.ts';
import { trimEnds } from './trim-ends/trim-ends.ts';

/** Every step kind there is, in the usual order of a chain. Forms, command, API and docs read this list. */
export const STEPS: readonly AnyStep[] = [
  channels,
  dcRemoval,
  declip,
  declick,
  humRemoval,
  noiseReduction,
  neuralNoiseReduction,
  plosiveRemoval,
  highPass,
  lowPass,
  parametricEq,
  pointEq,
  toneMatch,
  saturation,
  expander,
  deEsser,
  leveller,
  compressor,
  multibandCompressor,
  reverb,
  custom,
  gain,
  peakNormalise,
  rmsNormalise,
  loudnessNormalise,
  trimEnds,
  shortenPauses,
  pace,
  fade,
  limiter,
];

const byKind = new Map(STEPS.map((step) => [step.kind, step]));

export const stepOfKind = (kind: string): AnyStep | undefined => byKind.get(kind);

/** The definition of a step: its kind's, or its module's; undefined where either is not known here. */
export const stepOf = (step: { kind: string; settings?: unknown }): AnyStep | undefined => {
  const named = moduleOf(step);
  return named ? stepOfModule(named.sha256) : byKind.get(step.kind);
};

/** The first kind, in the usual order of a chain, that has a trait. */
export const kindWith = (trait: keyof StepTraits<unknown>): AnyStep => STEPS.find(({ traits }) => traits?.[trait])!;
