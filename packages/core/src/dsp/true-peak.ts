import { kernels, once, roomFor, tableOf } from '@tonos/kernels';
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

const CHUNK = 1024;
const STRIDE = 16;
const HELD = TRUE_PEAK_TAPS - 1;

/** Where chunks lie for the kernel, shared by all readers of a thread: each leaves nothing there. */
const room = once(() => ({
  kernel: kernels(),
  samples: roomFor(HELD + CHUNK),
  strides: roomFor((HELD + CHUNK + TRUE_PEAK_TAPS) / STRIDE + 1),
  taps: tableOf(PHASES.flatMap((taps) => [...taps])),
  out: roomFor(CHUNK),
}));

/**
 * One channel's stream of samples, read as peaks of the intervals between them: on finer grids only where a peak over a floor
 * could hide between the values of the coarser one.
 */
export class IntervalPeaks {
  private readonly room = room();
  /** The last samples, which the next intervals stand on. */
  private readonly held = new Float32Array(HELD);

  /**
   * For each new sample n, writes max(|x[m]|, inter-sample peak up to x[m + 1]) with m = n - TRUE_PEAK_LATENCY. Peaks
   * that stay under `floor` are read roughly, or as |x[m]| alone. Returns the largest written.
   */
  read(samples: Float32Array, peaks: Float32Array, floor: number): number {
    const { kernel, strides, taps, out } = this.room;
    let most = 0;
    for (let start = 0; start < samples.length; start += CHUNK) {
      const frames = Math.min(CHUNK, samples.length - start);
      this.place(samples, start, frames);
      this.readStrides(frames);
      most = Math.max(most, kernel.peaksBetween(this.room.samples, frames, strides, taps, BOUND, floor, out));
      peaks.set(kernel.f32.subarray(out >> 2, (out >> 2) + frames), start);
    }
    return most;
  }

  /** The largest of what `read` would write, or `floor` where that is larger: most of a voice is never interpolated. */
  largest(samples: Float32Array, floor: number): number {
    const { kernel, strides, taps } = this.room;
    let most = floor;
    for (let start = 0; start < samples.length; start += CHUNK) {
      const frames = Math.min(CHUNK, samples.length - start);
      this.place(samples, start, frames);
      if (kernel.peak(this.room.samples, HELD + frames) * BOUND <= most) continue;
      this.readStrides(frames);
      most = kernel.largestBetween(this.room.samples, frames, strides, taps, BOUND, most);
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

  /** Puts what is held and a chunk behind it before the kernel, then holds the chunk's end. */
  private place(samples: Float32Array, start: number, frames: number): void {
    const { f32 } = this.room.kernel;
    const first = this.room.samples >> 2;
    f32.set(this.held, first);
    f32.set(samples.subarray(start, start + frames), first + HELD);
    this.held.set(f32.subarray(first + frames, first + frames + HELD));
  }

  /** The peaks of strides of what was put there. */
  private readStrides(frames: number): void {
    const { kernel, samples, strides } = this.room;
    const count = Math.ceil((HELD + frames) / STRIDE);
    kernel.f32.fill(0, (strides >> 2) + count, (strides >> 2) + count + TRUE_PEAK_TAPS / STRIDE);
    kernel.peaksOfStrides(samples, HELD + frames, strides);
  }
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
