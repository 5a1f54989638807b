import { extremesOf, held, kernels, MOST_FRAMES } from '@tonos/kernels';
import { cut } from '../signal/memory.ts';
import type { Block } from '../signal/signal.ts';

/** Two steps of 16 bits: a flat top may carry a bit of dither. */
const FLAT = 2.2 / 32768;
/** A sample this near to full scale is at full scale, at 16 bits. */
const FULL_SCALE = 1 - 1.5 / 32768;
/** Below this a flat stretch is no ceiling. */
const LEAST_LEVEL = 0.05;
/** A corner: the wave leaves a clipped top at once, while the round top of a sine leaves it gently. */
const CORNER = 6 * FLAT;
/** A ceiling lies at the top: flat stretches far below the largest sample of their sign are coarse steps of few bits. */
const NEAR_TOP = 0.9;
/** A top below full scale is a ceiling when this many runs end at it. */
const RECURS = 4;
const LEAST_RUN = 3;
const MOST_PLACES = 10_000;

/** Stretches of so many samples are looked at as a whole first: most hold nothing flat. */
const CHUNK = 256;
const joined = new Float32Array(CHUNK + 8);

/** Counts runs of three or more samples that are flat at full scale, or at a lower level that recurs. */
export class ClippingMeter {
  private readonly detectors: ChannelClipping[];

  constructor(channels: number) {
    this.detectors = Array.from({ length: channels }, () => new ChannelClipping());
  }

  hear(block: Block): void {
    for (const piece of cut(block, MOST_FRAMES)) piece.forEach((samples, c) => this.detectors[c].hear(samples));
  }

  /** Clipped runs over all channels. */
  conclude(): number {
    return this.detectors.reduce((sum, detector) => sum + detector.conclude().count, 0);
  }

  /** Samples in clipped runs, over all channels. */
  samples(): number {
    return this.detectors.reduce((sum, detector) => sum + detector.conclude().samples, 0);
  }

  /** The frames at which clipped runs end, of the first ten thousand a channel, in no order. */
  places(): number[] {
    return this.detectors.flatMap((detector) => detector.conclude().places);
  }
}

class ChannelClipping {
  /** The sample before the run. */
  private before = 0;
  /** The sample before the last. */
  private earlier = 0;
  private last = 0;
  private low = 0;
  private high = 0;
  private run = 0;
  private lowest = 0;
  private highest = 0;
  private frame = 0;
  private fullScaleRuns = 0;
  private fullScaleSamples = 0;
  /** Samples of runs below full scale, by level as `tops`. */
  private readonly lengths = new Map<number, number>();
  /** Runs below full scale by level, in steps of FLAT. */
  private readonly tops = new Map<number, number>();
  /** Where runs end, and at what level; undefined at full scale. */
  private readonly ends: { frame: number; step: number | undefined }[] = [];

  /** Stretch by stretch: those in which nothing lies flat are not followed sample by sample. */
  hear(samples: Float32Array): void {
    const at = held(samples);
    const stretches = Array.from({ length: Math.ceil(samples.length / CHUNK) }, (_, k) => k * CHUNK);
    // what is joined with the samples before lies where these do
    const levels = stretches.map((from) => extremesOf(at + 4 * from, Math.min(CHUNK, samples.length - from)));
    stretches.forEach((from, k) => this.hearStretch(samples.subarray(from, from + CHUNK), levels[k]));
  }

  private hearStretch(samples: Float32Array, { low, high }: { low: number; high: number }): void {
    this.frame += samples.length;
    // what lies far below the largest sample is no ceiling: there nothing flat is looked for
    const isLow = high < NEAR_TOP * this.highest && low > NEAR_TOP * this.lowest;
    if (this.run <= 2 && (isLow || !this.hasFlat(samples))) this.skip(samples, low, high);
    else this.follow(samples);
  }

  /** Whether three samples in a row, from the last two of before on, are alike and loud. */
  private hasFlat(samples: Float32Array): boolean {
    joined[0] = this.earlier;
    joined[1] = this.last;
    joined.set(samples, 2);
    // what is read beyond the end is as steep as can be
    joined.fill(1, samples.length + 2).fill(-1, samples.length + 3, samples.length + 4);
    return kernels().hasFlat(held(joined), samples.length, FLAT, LEAST_LEVEL - FLAT) !== 0;
  }

  /** Leaves the detector as `follow` would where no run can be. */
  private skip(samples: Float32Array, low: number, high: number): void {
    const { length } = samples;
    if (low < this.lowest) this.lowest = low;
    if (high > this.highest) this.highest = high;
    const third = length > 2 ? samples[length - 3] : length > 1 ? this.last : this.earlier;
    this.earlier = length > 1 ? samples[length - 2] : this.last;
    this.last = samples[length - 1];
    const isPair = Math.abs(this.last - this.earlier) <= FLAT;
    this.before = isPair ? third : this.earlier;
    this.low = isPair ? Math.min(this.earlier, this.last) : this.last;
    this.high = isPair ? Math.max(this.earlier, this.last) : this.last;
    this.run = isPair ? 2 : 1;
  }

  private follow(samples: Float32Array): void {
    if (samples.length) this.earlier = samples.length > 1 ? samples[samples.length - 2] : this.last;
    for (let i = 0; i < samples.length; i++) {
      const x = samples[i];
      const low = x < this.low ? x : this.low;
      const high = x > this.high ? x : this.high;
      if (this.run && high - low <= FLAT) {
        this.low = low;
        this.high = high;
        this.run++;
      } else {
        if (this.run >= LEAST_RUN) this.endRun(x, this.frame - samples.length + i);
        this.before = this.last;
        this.low = x;
        this.high = x;
        this.run = 1;
      }
      if (x < this.lowest) this.lowest = x;
      else if (x > this.highest) this.highest = x;
      this.last = x;
    }
  }

  conclude(): { count: number; samples: number; places: number[] } {
    if (this.run >= LEAST_RUN) this.endRun(0, this.frame);
    this.run = 0;
    let recurring = 0;
    let samples = this.fullScaleSamples;
    for (const [step, count] of this.tops) {
      if (!this.isCeiling(step)) continue;
      recurring += count;
      samples += this.lengths.get(step) ?? 0;
    }
    return {
      samples,
      count: this.fullScaleRuns + recurring,
      places: this.ends
        .filter(({ step }) => step === undefined || this.isCeiling(step))
        .map(({ frame }) => Math.max(0, frame - 1)),
    };
  }

  /** A level near the top at which runs recur. */
  private isCeiling(step: number): boolean {
    const { tops } = this;
    const extreme = step > 0 ? this.highest : this.lowest;
    if (Math.abs(step * FLAT) < NEAR_TOP * Math.abs(extreme)) return false;
    return (tops.get(step) ?? 0) + (tops.get(step - 1) ?? 0) + (tops.get(step + 1) ?? 0) >= RECURS;
  }

  /** @param frame where the run is over */
  private endRun(after: number, frame: number): void {
    const level = (this.low + this.high) / 2;
    const size = Math.abs(level);
    if (size < LEAST_LEVEL) return;
    if (size >= FULL_SCALE - FLAT) {
      this.fullScaleRuns++;
      this.fullScaleSamples += this.run;
      this.note(frame, undefined);
      return;
    }
    const sign = Math.sign(level);
    const cornerBefore = sign * (level - this.before) > CORNER;
    const cornerAfter = sign * (level - after) > CORNER;
    if (!cornerBefore || !cornerAfter) return;
    const step = Math.round(level / FLAT);
    this.tops.set(step, (this.tops.get(step) ?? 0) + 1);
    this.lengths.set(step, (this.lengths.get(step) ?? 0) + this.run);
    this.note(frame, step);
  }

  private note(frame: number, step: number | undefined): void {
    if (this.ends.length < MOST_PLACES) this.ends.push({ frame, step });
  }
}
