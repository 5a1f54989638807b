import { inPlace, kernels } from '@tonos/kernels';

/** Frames of a control step: what steers a gain is computed once in so many. */
export const CONTROL_FRAMES = 8;

/** A length in whole control steps, at least one. */
export const controlSteps = (frames: number): number => Math.max(1, Math.round(frames / CONTROL_FRAMES));

/** Powers become decibels in place, within 1e-5 dB; silence becomes -300 dB. */
export const powersToDb = (powers: Float32Array): void =>
  inPlace(powers, [], (count, at) => kernels().decibels(at, count));

/** Decibels become factors in place, within 1e-6; 0 dB becomes 1 exactly. */
export const dbToGains = (decibels: Float32Array): void =>
  inPlace(decibels, [], (count, at) => kernels().factors(at, count));
