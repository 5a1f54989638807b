import { KERNELS_WASM } from './kernels-wasm.ts';
import { compiled, instanceOf } from './wasm.ts';

/** What assembly/index.ts gives out: pointers are bytes from the start of memory. */
interface Exports {
  memory: { buffer: ArrayBuffer };
  allocate(bytes: number): number;
  energy(samples: number, frames: number): number;
  levels(samples: number, frames: number, out: number): void;
  product(left: number, right: number, frames: number): number;
  peak(samples: number, frames: number): number;
  peaksOfStrides(samples: number, frames: number, peaks: number): number;
  extremes(samples: number, frames: number, out: number): void;
  zerosFromStart(samples: number, frames: number): number;
  zerosToEnd(samples: number, frames: number): number;
  hasBeyond(samples: number, frames: number, largest: number): number;
  hasFlat(samples: number, frames: number, flat: number, level: number): number;
  weightedEnergy(samples: number, frames: number, coefficients: number, state: number): number;
  weightedEnergies(
    left: number,
    right: number,
    frames: number,
    coefficients: number,
    leftState: number,
    rightState: number,
    out: number,
  ): void;
  jumpsOfGroups(samples: number, groups: number, size: number, out: number): void;
  squaresOfGroups(samples: number, groups: number, share: number, sums: number, peaks: number): void;
  bandPowers(re: number, im: number, edges: number, bands: number, out: number): void;
  addProduct(sumRe: number, sumIm: number, aRe: number, aIm: number, bRe: number, bIm: number, bins: number): void;
  addPowers(re: number, im: number, bins: number, sums: number): void;
  halve(samples: number, made: number, taps: number, out: number): void;
  largestBetween(samples: number, frames: number, strides: number, taps: number, bound: number, floor: number): number;
  peaksBetween(
    samples: number,
    frames: number,
    strides: number,
    taps: number,
    bound: number,
    floor: number,
    out: number,
  ): number;
  from16(bytes: number, frames: number, stride: number, out: number): void;
  from24(bytes: number, frames: number, stride: number, out: number): void;
  dithered(samples: number, frames: number, scale: number, seed: number, first: number, out: number): void;
  to16(values: number, frames: number, stride: number, bytes: number): void;
  to24(values: number, frames: number, stride: number, bytes: number): void;
  cascade(samples: number, frames: number, quads: number, sections: number, states: number, work: number): void;
  cellPowers(
    samples: number,
    frames: number,
    sections: number,
    coefficients: number,
    state: number,
    lengths: number,
    cells: number,
    begun: number,
    work: number,
    out: number,
  ): void;
  interpolate(samples: number, frames: number, rows: number, taps: number, factor: number, out: number): void;
  decimate(values: number, count: number, factor: number, taps: number, length: number, out: number): void;
  saturated(values: number, count: number, drive: number, bias: number, slope: number): void;
  autocorrelation(samples: number, count: number, lags: number, out: number): void;
  predictionErrors(samples: number, count: number, coefficients: number, order: number, out: number): void;
  averages(values: number, count: number, most: number, ring: number, window: number, one: number, state: number): void;
  slidingMaxima(
    samples: number,
    count: number,
    window: number,
    values: number,
    places: number,
    mask: number,
    state: number,
  ): void;
  releasedGains(peaks: number, count: number, ceiling: number, release: number, state: number): void;
  decibels(values: number, count: number): void;
  factors(values: number, count: number): void;
  reductions(levels: number, count: number, threshold: number, slope: number, knee: number): void;
  excesses(levels: number, others: number, count: number, threshold: number, range: number, least: number): void;
  gains(reductions: number, count: number, makeup: number): void;
  shares(reductions: number, count: number): void;
  follow(values: number, count: number, attack: number, release: number, value: number): number;
  ramps(aims: number, frames: number, phase: number, from: number, to: number, out: number): void;
  amplify(samples: number, gains: number, frames: number): void;
  withoutShare(whole: number, band: number, shares: number, frames: number): void;
  powers(re: number, im: number, bins: number, out: number): void;
  amplified(re: number, im: number, bins: number, gains: number): void;
  presence(
    power: number,
    last: number,
    noise: number,
    sums: number,
    bins: number,
    margin: number,
    reach: number,
    speechSnr: number,
    out: number,
  ): void;
  spectralGains(
    power: number,
    noise: number,
    probability: number,
    previous: number,
    gains: number,
    bins: number,
    margin: number,
    floor: number,
    decision: number,
    leastXi: number,
    keep: number,
    table: number,
    first: number,
    perOctave: number,
    least: number,
    most: number,
  ): void;
  trackedNoise(
    power: number,
    noise: number,
    likely: number,
    bins: number,
    speechSnr: number,
    keep: number,
    keepLikely: number,
    stuck: number,
  ): void;
  realForward(
    samples: number,
    window: number,
    re: number,
    im: number,
    n: number,
    twiddles: number,
    turns: number,
    work: number,
  ): void;
  realInverse(
    re: number,
    im: number,
    samples: number,
    window: number,
    n: number,
    twiddles: number,
    turns: number,
    work: number,
  ): void;
}

export interface Kernels extends Exports {
  /** The whole memory, as numbers of each kind. It never grows, so they stay valid. */
  readonly u8: Uint8Array;
  readonly i32: Int32Array;
  readonly f32: Float32Array;
  readonly f64: Float64Array;
}

/** Makes something when it is first asked for, and then always answers that: what lies in a thread's memory is there once. */
export function once<T extends object>(make: () => T): () => T {
  let made: T | undefined;
  return () => {
    made ??= make();
    return made;
  };
}

/** The kernels of this thread, compiled when they are first needed. */
export const kernels = once((): Kernels => {
  const exports = instanceOf<Exports>(compiled(KERNELS_WASM));
  const { buffer } = exports.memory;
  return {
    ...exports,
    u8: new Uint8Array(buffer),
    i32: new Int32Array(buffer),
    f32: new Float32Array(buffer),
    f64: new Float64Array(buffer),
  };
});

/** Room for 32-bit floats, for as long as the program runs; 16 bytes of it beyond the end may be read or written. */
export const roomFor = (floats: number): number => kernels().allocate(4 * floats + 16);

/** Copies values there and returns where they lie. */
export function tableOf(values: ArrayLike<number>): number {
  const at = roomFor(values.length);
  kernels().f32.set(values, at >> 2);
  return at;
}
