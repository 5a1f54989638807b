import { powerToDb } from '../../signal/decibels.ts';
import { HARMONICS, HOPS_PER_SECOND, type LineFrame, MAINS_HZ, WINDOW_BANDWIDTH_HZ } from './mains-lines.ts';

export interface HumLine {
  /** Multiple of the mains. */
  harmonic: number;
  hz: number;
  /** Its power over that of the floor in 1 Hz beside it. */
  excessDb: number;
}

export interface Hum {
  /** The mains frequency as it is in this recording. */
  mainsHz: number;
  /** Which of `MAINS_HZ`. */
  mains: number;
  lines: HumLine[];
}

/** A frame and the one after it. */
export interface FramePair {
  first: LineFrame;
  second: LineFrame;
}

const QUIET_SHARE = 0.12;
const LEAST_PAIRS = 8;
const MOST_PAIRS = 300;
/** A line over the mean power beside it, in dB. */
const LINE_DB = 6;
const LONE_LINE_DB = 15;
/** Of a fan the phase from frame to frame is by chance: at 0.75 it passes for a line. */
const COHERENT = 0.85;
const GRID_WANDER_HZ = 0.15;
const ROUNDS = 4;
const MOST_WEIGHT = 1000;

/** The quietest of the pairs: what is heard between words. */
export const quietPairs = (pairs: readonly FramePair[]): FramePair[] =>
  [...pairs]
    .sort((a, b) => Math.max(a.first.voice, a.second.voice) - Math.max(b.first.voice, b.second.voice))
    .slice(0, Math.max(LEAST_PAIRS, Math.min(MOST_PAIRS, Math.ceil(QUIET_SHARE * pairs.length))));

interface Seen {
  n: number;
  hz: number;
  /** Power over that beside it, as a ratio. */
  over: number;
}

/**
 * The mains' lines in quiet frames: a multiple that stands out, keeps its phase from frame to frame and lies where the others say the
 * mains is. Two of them, or a strong one, are hum.
 */
export function findLines(pairs: readonly FramePair[], mains: number): Hum | undefined {
  if (pairs.length < LEAST_PAIRS) return undefined;
  const nominal = MAINS_HZ[mains];
  const all: Seen[] = [];
  for (let i = 0; i < HARMONICS; i++) {
    const n = i + 1;
    let [turnRe, turnIm, own, beside] = [0, 0, 0, 0];
    for (const { first, second } of pairs) {
      turnRe += second.re[i] * first.re[i] + second.im[i] * first.im[i];
      turnIm += second.im[i] * first.re[i] - second.re[i] * first.im[i];
      own += (first.re[i] ** 2 + first.im[i] ** 2 + second.re[i] ** 2 + second.im[i] ** 2) / 2;
      beside += (first.beside[i] + second.beside[i]) / 2;
    }
    const over = own / (beside + 1e-20);
    if (own < 1e-12 || powerToDb(over) < LINE_DB || Math.hypot(turnRe, turnIm) < COHERENT * own) continue;
    const offHz = (Math.atan2(turnIm, turnRe) * HOPS_PER_SECOND) / (2 * Math.PI);
    all.push({ n, hz: n * nominal + offHz, over });
  }
  let mainsHz = nominal as number;
  let seen: Seen[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    // at first the mains may be off by as much as grids are
    const slack = round ? 0.01 : GRID_WANDER_HZ;
    seen = all.filter(({ n, hz }) => Math.abs(hz - n * mainsHz) < 0.3 + slack * n);
    let [weighed, weights] = [0, 0];
    for (const { n, hz, over } of seen) {
      const weight = n * n * Math.min(MOST_WEIGHT, over - 1);
      weighed += (weight * hz) / n;
      weights += weight;
    }
    if (weights) mainsHz = weighed / weights;
  }
  const isHum = seen.length > 1 || (seen.length === 1 && powerToDb(seen[0].over) >= LONE_LINE_DB);
  if (!isHum) return undefined;
  const lines = seen.map(({ n, hz, over }) => ({
    harmonic: n,
    hz,
    excessDb: Math.round(10 * powerToDb((over - 1) * WINDOW_BANDWIDTH_HZ)) / 10,
  }));
  return { mainsHz, mains, lines };
}

/** Of several mains the one whose lines stand out most together. */
export const strongest = (found: readonly (Hum | undefined)[]): Hum | undefined =>
  found
    .filter((one) => one !== undefined)
    .sort((a, b) => sumOf(b) - sumOf(a))
    .at(0);

const sumOf = ({ lines }: Hum): number => lines.reduce((sum, { excessDb }) => sum + excessDb, 0);
