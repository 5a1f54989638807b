/**
 * Digital cascades that keep the magnitude of an analogue prototype up to Nyquist, without the cramping of the bilinear
 * transform.
 *
 * Poles and finite zeros go over by the matched z-transform, z = exp(s T). A zero at infinity has no counterpart:
 * fixed zeros stand in for it. What is left, |H analogue|^2 / |H digital|^2, is a smooth function of cos(w), since it holds only the far-off
 * images of poles and zeros; up to two more sections, rational fits of degree 2 over 2 in cos(w) by least squares on the
 * relative error (Sanathanan and Koerner 1963), take it away.
 */
import { type Prototype, prototypePower, type Section, sectionPower } from './section.ts';

/** |c0 + c1 z^-1 + c2 z^-2|^2 = C0 (1 - p) + C1 p + 4 C2 p (1 - p), p = sin^2(w/2). */
type PowerTerms = readonly [C0: number, C1: number, C2: number];

/** The minimum-phase polynomial of given power terms (Vicanek 2016), or undefined where there is none. */
function factor([C0, C1, C2]: PowerTerms): [number, number, number] | undefined {
  if (C0 < 0 || C1 < 0) return undefined;
  const w = (Math.sqrt(C0) + Math.sqrt(C1)) / 2;
  if (w * w + C2 < 0) return undefined;
  const c0 = (w + Math.sqrt(w * w + C2)) / 2;
  return c0 > 0 ? [c0, (Math.sqrt(C0) - Math.sqrt(C1)) / 2, -C2 / (4 * c0)] : undefined;
}

/** The z-plane polynomial whose roots are exp(s T) for the roots s of c0 + c1 s + c2 s^2. */
function mapRoots([c0, c1, c2]: readonly [number, number, number], w0: number): [number, number, number] {
  if (c2 === 0) return c1 === 0 ? [1, 0, 0] : [1, -Math.exp((-w0 * c0) / c1), 0];
  const damping = c1 / (2 * c2);
  const square = damping * damping - c0 / c2;
  const decay = Math.exp(-w0 * damping);
  if (square >= 0) return [1, -2 * decay * Math.cosh(w0 * Math.sqrt(square)), decay * decay];
  // a root beyond Nyquist would fold back: it is held just below
  const angle = Math.min(w0 * Math.sqrt(-square), 0.98 * Math.PI);
  return [1, -2 * decay * Math.cos(angle), decay * decay];
}

function matchedSection(prototype: Prototype, sampleRateHz: number): Section {
  const { n, d, frequencyHz } = prototype;
  const w0 = (2 * Math.PI * frequencyHz) / sampleRateHz;
  const denominator = mapRoots(d, w0);
  const excessPoles = (d[2] ? 2 : 1) - (n[2] ? 2 : n[1] ? 1 : 0);
  const numerator = excessPoles > 0 ? excessZeros(excessPoles) : mapRoots(n, w0);
  const shape: Section = [...numerator, denominator[1], denominator[2]];
  // level is set where the prototype passes sound: at DC, or at Nyquist for a high-pass
  const atHz = n[0] !== 0 ? 0 : sampleRateHz / 2;
  const gain = Math.sqrt(prototypePower(prototype, atHz) / sectionPower(shape, atHz, sampleRateHz));
  return [shape[0] * gain, shape[1] * gain, shape[2] * gain, shape[3], shape[4]];
}

/**
 * Each pole without a finite zero makes the matched denominator fall short of the analogue one by sin(w/2) / (w/2), to
 * first order whatever the pole: 2/pi at Nyquist. A real zero at -0.18 takes up most of it and leaves a remainder
 * that bends one way only, which the corrections then fit to a few hundredths of a dB (0.15 to 0.2 does as well).
 */
function excessZeros(excessPoles: number): [number, number, number] {
  const zero = 0.18;
  return excessPoles === 2 ? [1, 2 * zero, zero * zero] : [1, zero, 0];
}

const GRID = 96;
/** A correction is added only where more than this is left, in dB. */
const GOOD_ENOUGH_DB = 0.01;

/** The section whose |H|^2 fits `wanted` at w = pi k / GRID; undefined where no stable section does. */
function fitCorrection(wanted: readonly (number | undefined)[]): Section | undefined {
  let q1 = 0;
  let q2 = 0;
  let p: number[] = [1, 0, 0];
  for (let round = 0; round < 6; round++) {
    const normal = Array.from({ length: 5 }, () => new Array<number>(6).fill(0));
    wanted.forEach((t, k) => {
      if (t === undefined) return;
      const x = Math.cos((Math.PI * k) / GRID);
      // DC weighs more: what a filter leaves alone, it leaves alone exactly
      const weight = (k ? 1 : 4) / (t * (1 + q1 * x + q2 * x * x));
      const row = [1, x, x * x, -t * x, -t * x * x, t].map((value) => value * weight);
      for (let i = 0; i < 5; i++) for (let j = 0; j < 6; j++) normal[i][j] += row[i] * row[j];
    });
    const solved = solve(normal);
    if (!solved) return undefined;
    [q1, q2] = [solved[3], solved[4]];
    p = solved.slice(0, 3);
  }
  // c0 + c1 x + c2 x^2 -> power terms
  const terms = (c0: number, c1: number, c2: number): PowerTerms => [c0 + c1 + c2, c0 - c1 + c2, -c2];
  const numerator = factor(terms(p[0], p[1], p[2]));
  const denominator = factor(terms(1, q1, q2));
  if (!numerator || !denominator || Math.abs(denominator[2] / denominator[0]) > 0.98) return undefined;
  const a0 = denominator[0];
  return [numerator[0] / a0, numerator[1] / a0, numerator[2] / a0, denominator[1] / a0, denominator[2] / a0];
}

/** Gaussian elimination with pivots; rows hold the right side last. */
function solve(rows: number[][]): number[] | undefined {
  const n = rows.length;
  for (let i = 0; i < n; i++) {
    let pivot = i;
    for (let r = i + 1; r < n; r++) if (Math.abs(rows[r][i]) > Math.abs(rows[pivot][i])) pivot = r;
    [rows[i], rows[pivot]] = [rows[pivot], rows[i]];
    if (!(Math.abs(rows[i][i]) > 1e-14)) return undefined;
    for (let r = 0; r < n; r++) {
      if (r === i) continue;
      const factorOfRow = rows[r][i] / rows[i][i];
      for (let c = i; c <= n; c++) rows[r][c] -= factorOfRow * rows[i][c];
    }
  }
  return rows.map((row, i) => row[n] / row[i]);
}

/** The sections of a cascade of prototypes at a sample rate, corrections included. */
export function matchedCascade(prototypes: readonly Prototype[], sampleRateHz: number): Section[] {
  const sections = prototypes.map((prototype) => matchedSection(prototype, sampleRateHz));
  for (let round = 0; round < 2; round++) {
    let worst = 1;
    const wanted = Array.from({ length: GRID + 1 }, (_, k) => {
      const hz = Math.max((k * sampleRateHz) / (2 * GRID), 1e-3);
      const analogue = prototypes.reduce((power, prototype) => power * prototypePower(prototype, hz), 1);
      const digital = sections.reduce((power, section) => power * sectionPower(section, hz, sampleRateHz), 1);
      const left = analogue / digital;
      if (!(analogue > 1e-18 && digital > 1e-18) || !Number.isFinite(left)) return undefined;
      worst = Math.max(worst, left, 1 / left);
      return left;
    });
    if (10 * Math.log10(worst) < GOOD_ENOUGH_DB) break;
    const correction = fitCorrection(wanted);
    if (!correction) break;
    sections.push(correction);
  }
  return sections;
}
