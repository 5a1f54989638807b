import { powerToDb } from '../signal/decibels.ts';
import type { Curve } from './frequency-curve.ts';

/** A second-order digital section `[b0, b1, b2, a1, a2]`, a0 = 1. */
export type Section = readonly [b0: number, b1: number, b2: number, a1: number, a2: number];

/** H(s) = (n[0] + n[1] s + n[2] s^2) / (d[0] + d[1] s + d[2] s^2), s = j f / frequencyHz. */
export interface Prototype {
  readonly frequencyHz: number;
  readonly n: readonly [number, number, number];
  readonly d: readonly [number, number, number];
}

const quadraticPower = ([c0, c1, c2]: readonly [number, number, number], x: number): number =>
  (c0 - c2 * x * x) ** 2 + (c1 * x) ** 2;

/** |H|^2 of an analogue prototype. */
export const prototypePower = ({ n, d, frequencyHz }: Prototype, hz: number): number =>
  quadraticPower(n, hz / frequencyHz) / quadraticPower(d, hz / frequencyHz);

/** The gain of prototypes in series, in dB over Hz. */
export const prototypesCurve =
  (prototypes: readonly Prototype[]): Curve =>
  (hz) =>
    prototypes.reduce((db, prototype) => db + powerToDb(Math.max(1e-20, prototypePower(prototype, hz))), 0);

/** |H|^2 of a digital section. */
export function sectionPower([b0, b1, b2, a1, a2]: Section, hz: number, sampleRateHz: number): number {
  const w = (2 * Math.PI * hz) / sampleRateHz;
  const polynomialPower = (c0: number, c1: number, c2: number) =>
    (c0 + c1 * Math.cos(w) + c2 * Math.cos(2 * w)) ** 2 + (c1 * Math.sin(w) + c2 * Math.sin(2 * w)) ** 2;
  return polynomialPower(b0, b1, b2) / polynomialPower(1, a1, a2);
}
