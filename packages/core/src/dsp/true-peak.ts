import type { Block } from '../signal/signal.ts';
import { kaiser, kaiserBeta, sinc } from './kaiser.ts';

/**
 * Inter-sample peaks (ITU-R BS.1770-5 Annex 2) by 8x interpolation: a Kaiser-windowed sinc of 48 taps a phase, flat
 * within 0.01 dB to 0.9 of Nyquist.
 */
const FACTOR = 8;
const HALF = 24;
export const TRUE_PEAK_TAPS = 2 * HALF;
/** Frames by which the interval peaks lag the newest sample. */
export const TRUE_PEAK_LATENCY = HALF;

const PHASES: readonly Float64Array[] = Array.from({ length: FACTOR - 1 }, (_, j) => {
  const beta = kaiserBeta(76);
  const at = (j + 1) / FACTOR;
  const taps = Float64Array.from({ length: TRUE_PEAK_TAPS }, (__, k) => {
    const x = k - (HALF - 1) - at;
    return sinc(x) * kaiser(x / HALF, beta);
  });
  const sum = taps.reduce((total, tap) => total + tap, 0);
  return taps.map((tap) => tap / sum);
});

/** No interpolated value exceeds the largest of its 48 samples by more than this factor. */
const BOUND = Math.max(...PHASES.map((taps) => taps.reduce((total, tap) => total + Math.abs(tap), 0)));

function interpolated(samples: Float64Array, at: number, phase: number): number {
  const taps = PHASES[phase - 1];
  let even = 0;
  let odd = 0;
  for (let k = 0; k < TRUE_PEAK_TAPS; k += 2) {
    even += taps[k] * samples[at + k];
    odd += taps[k + 1] * samples[at + k + 1];
  }
  return Math.abs(even + odd);
}

/**
 * How far a peak can rise above its nearest values on a grid of 2 and of 4 a sample: a band-limited signal falls from its
 * largest value M no faster than M cos(pi t fs) (Bernstein), so 1 / cos(pi / 4) and 1 / cos(pi / 8).
 */
const RISE_OVER_HALVES = 1.42;
const RISE_OVER_QUARTERS = 1.09;

/**
 * Largest absolute value from samples[at + HALF - 1] up to the next sample, read on finer grids only where a peak over
 * `floor` could hide between the values of the coarser one.
 */
function intervalPeak(samples: Float64Array, at: number, floor: number): number {
  const start = Math.abs(samples[at + HALF - 1]);
  const end = Math.abs(samples[at + HALF]);
  const half = interpolated(samples, at, 4);
  let peak = half > start ? half : start;
  if ((end > peak ? end : peak) * RISE_OVER_HALVES <= floor) return peak;
  peak = Math.max(peak, interpolated(samples, at, 2), interpolated(samples, at, 6));
  if ((end > peak ? end : peak) * RISE_OVER_QUARTERS <= floor) return peak;
  for (let phase = 1; phase < FACTOR; phase += 2) {
    const value = interpolated(samples, at, phase);
    if (value > peak) peak = value;
  }
  return peak;
}

const CHUNK = 512;
const STRIDE = 16;
const HELD = TRUE_PEAK_TAPS - 1 + CHUNK;
/** Strides that the samples behind one stride of intervals reach over. */
const REACH = (STRIDE + TRUE_PEAK_TAPS) / STRIDE;

/** One channel's stream of samples, read as peaks of the intervals between them. */
export class IntervalPeaks {
  private readonly held = new Float64Array(HELD);
  /** Largest absolute value of each stride of `held`. */
  private readonly strides = new Float64Array(Math.ceil(HELD / STRIDE) + REACH);

  /**
   * For each new sample n, writes max(|x[m]|, inter-sample peak up to x[m + 1]) with m = n - TRUE_PEAK_LATENCY. Peaks
   * that stay under `floor` are read roughly, or as |x[m]| alone.
   */
  read(samples: Float32Array, peaks: Float64Array, floor: number): void {
    const { held, strides } = this;
    for (let start = 0; start < samples.length; start += CHUNK) {
      const frames = Math.min(CHUNK, samples.length - start);
      for (let i = 0; i < frames; i++) held[TRUE_PEAK_TAPS - 1 + i] = samples[start + i];
      largestOfStrides(held, TRUE_PEAK_TAPS - 1 + frames, strides);
      for (let from = 0, stride = 0; from < frames; from += STRIDE, stride++) {
        const to = Math.min(frames, from + STRIDE);
        if (largestFrom(strides, stride) * BOUND > floor)
          for (let i = from; i < to; i++) peaks[start + i] = intervalPeak(held, i, floor);
        else for (let i = from; i < to; i++) peaks[start + i] = Math.abs(held[i + HALF - 1]);
      }
      held.copyWithin(0, frames, frames + TRUE_PEAK_TAPS - 1);
    }
  }

  /** The largest of what `read` would write, or `floor` where that is larger: most of a voice is never interpolated. */
  largest(samples: Float32Array, floor: number): number {
    const { held, strides } = this;
    let most = floor;
    for (let start = 0; start < samples.length; start += CHUNK) {
      const frames = Math.min(CHUNK, samples.length - start);
      for (let i = 0; i < frames; i++) held[TRUE_PEAK_TAPS - 1 + i] = samples[start + i];
      const length = TRUE_PEAK_TAPS - 1 + frames;
      const peak = largestOfStrides(held, length, strides);
      if (peak * BOUND > most) most = this.largestOfIntervals(frames, most);
      held.copyWithin(0, frames, length);
    }
    return most;
  }

  /** The largest if nothing more came: the last samples are let through, and what is held stays as it is. */
  largestAtEnd(floor: number): number {
    const held = this.held.slice();
    const most = this.largest(END, floor);
    this.held.set(held);
    return most;
  }

  private largestOfIntervals(frames: number, floor: number): number {
    const { held, strides } = this;
    let most = floor;
    for (let from = 0, stride = 0; from < frames; from += STRIDE, stride++) {
      if (largestFrom(strides, stride) * BOUND <= most) continue;
      const to = Math.min(frames, from + STRIDE);
      for (let i = from; i < to; i++) {
        const peak = intervalPeak(held, i, most);
        if (peak > most) most = peak;
      }
    }
    return most;
  }
}

/** Of all the samples that the intervals of one stride stand on. */
function largestFrom(strides: Float64Array, stride: number): number {
  let most = 0;
  for (let k = stride; k < stride + REACH; k++) if (strides[k] > most) most = strides[k];
  return most;
}

/** Fills `strides` and answers the largest of all. */
function largestOfStrides(held: Float64Array, length: number, strides: Float64Array): number {
  let stride = 0;
  let largest = 0;
  for (let from = 0; from < length; from += STRIDE) {
    const to = Math.min(length, from + STRIDE);
    let most = 0;
    for (let i = from; i < to; i++) {
      const size = Math.abs(held[i]);
      if (size > most) most = size;
    }
    strides[stride++] = most;
    if (most > largest) largest = most;
  }
  strides.fill(0, stride);
  return largest;
}

/** Silence that lets the last samples through. */
const END = new Float32Array(TRUE_PEAK_TAPS);

/** The largest true peak heard, over all channels. */
export class TruePeakMeter {
  private readonly readers: IntervalPeaks[];
  private largest = 0;

  constructor(channels: number) {
    this.readers = Array.from({ length: channels }, () => new IntervalPeaks());
  }

  hear(block: Block): void {
    for (let c = 0; c < block.length; c++) this.largest = this.readers[c].largest(block[c], this.largest);
  }

  /** The largest by now, but for the last samples, as a gain. */
  get soFar(): number {
    return this.largest;
  }

  /** The true peak of what was heard by now, as a gain (1 = 0 dBTP). */
  conclude(): number {
    return this.readers.reduce((most, reader) => reader.largestAtEnd(most), this.largest);
  }
}
