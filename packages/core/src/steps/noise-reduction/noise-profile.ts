import { RealFft } from '@tonos/kernels';
import { ActivityMeter } from '../../measure/activity/activity.ts';
import type { RoomTone } from '../../measure/activity/room-tone.ts';
import { NO_CHOICE, overlaps, type RoomToneChoice, withoutNever } from '../../measure/room-tone-choice.ts';
import { powerToDb } from '../../signal/decibels.ts';
import type { Block, SignalFormat } from '../../signal/signal.ts';
import { QuietSegments } from './quiet-segments.ts';

/** About 40 ms, a power of two. */
export const spectrumSize = (sampleRateHz: number): number => 2 ** Math.round(Math.log2(sampleRateHz * 0.04));

const HOPS_A_SEGMENT = 4;
const PART_SECONDS = 8;
/** Room tone below this confidence is not trusted to be the room alone. */
const LEAST_CONFIDENCE = 0.3;

export interface NoiseProfile {
  regions: RoomTone[];
  /** Mean |X|^2 of the room tone by channel and bin. */
  powers: number[][];
}

/**
 * Learns a recording's room tone in one hearing and in constant memory: the spectra of the quietest stretches of about 90 ms
 * of every part are kept; when the whole is known, those inside room tone are averaged. Stretches that a person chose are averaged as they come.
 */
export class NoiseProfiler {
  private readonly activity: ActivityMeter;
  private readonly fft: RealFft;
  /** The last `size` samples of each channel. */
  private readonly held: Float32Array[];
  private readonly kept: QuietSegments;
  private readonly sums: Float64Array[];
  private hopsHeard = 0;
  private readonly hop: number;
  private readonly bins: number;
  private frame = 0;

  /** Of the stretches that were chosen by hand. */
  private readonly chosen: { powers: Float64Array[]; segments: number };

  constructor(
    private readonly format: SignalFormat,
    private readonly choice: RoomToneChoice = NO_CHOICE,
  ) {
    const size = spectrumSize(format.sampleRateHz);
    this.activity = new ActivityMeter(format);
    this.fft = new RealFft(size);
    this.held = Array.from({ length: format.channels }, () => new Float32Array(size));
    this.hop = size / 2;
    this.kept = new QuietSegments(PART_SECONDS * format.sampleRateHz);
    this.bins = size / 2 + 1;
    this.sums = this.held.map(() => new Float64Array(this.bins));
    this.chosen = { powers: this.sums.map(() => new Float64Array(this.bins)), segments: 0 };
  }

  hear(block: Block): void {
    this.activity.hear(block);
    const frames = block[0].length;
    for (let start = 0; start < frames; ) {
      const filled = this.frame % this.hop;
      const end = Math.min(frames, start + this.hop - filled);
      this.held.forEach((held, c) => held.set(block[c].subarray(start, end), this.hop + filled));
      this.frame += end - start;
      start = end;
      if (this.frame % this.hop === 0) this.endHop();
    }
  }

  private endHop(): void {
    this.held.forEach((held, c) => {
      this.fft.addPowers(held, 'root-hann', this.sums[c]);
      held.copyWithin(0, this.hop);
    });
    if (++this.hopsHeard === HOPS_A_SEGMENT) this.endSegment();
  }

  /** The profile, or undefined where no usable room tone was found. */
  conclude(): NoiseProfile | undefined {
    if (this.chosen.segments) return this.chosenProfile();
    const rate = this.format.sampleRateHz;
    const { roomTone } = this.activity.conclude();
    const usable = roomTone.filter((tone) => tone.confidence >= LEAST_CONFIDENCE);
    const regions = withoutNever(usable, this.choice);
    const inside = this.kept.all.filter((segment) =>
      regions.some((r) => segment.startFrame >= r.startSeconds * rate && segment.endFrame <= r.endSeconds * rate),
    );
    if (!inside.length) return undefined;
    const powers = this.held.map((_, c) =>
      Array.from({ length: this.bins }, (__, k) => inside.reduce((sum, s) => sum + s.powers[c][k], 0) / inside.length),
    );
    return { regions, powers };
  }

  private chosenProfile(): NoiseProfile {
    const { powers, segments } = this.chosen;
    const means = powers.map((sum) => Array.from(sum, (value) => value / segments));
    // the windows' power adds up to a quarter at each hop; both halves of the spectrum count
    const size = 2 * (this.bins - 1);
    const power = means.reduce((sum, one) => sum + one.reduce((all, value) => all + value, 0), 0) / means.length;
    const rmsDbfs = powerToDb((8 * power) / size / size);
    return { regions: this.choice.use.map((span) => ({ ...span, rmsDbfs, confidence: 1 })), powers: means };
  }

  private endSegment(): void {
    const startFrame = this.frame - (HOPS_A_SEGMENT + 1) * this.hop;
    if (startFrame >= 0) this.noteSegment(startFrame);
    this.hopsHeard = 0;
    for (const sum of this.sums) sum.fill(0);
  }

  private noteSegment(startFrame: number): void {
    const energy = this.sums.reduce((total, sum) => total + totalOf(sum), 0) / HOPS_A_SEGMENT;
    if (!(energy > 1e-12)) return;
    const rate = this.format.sampleRateHz;
    const span = { startSeconds: startFrame / rate, endSeconds: this.frame / rate };
    if (this.choice.use.some((use) => use.startSeconds <= span.startSeconds && use.endSeconds >= span.endSeconds)) {
      this.chosen.segments++;
      this.chosen.powers.forEach((sum, c) => {
        for (let k = 0; k < sum.length; k++) sum[k] += this.sums[c][k] / HOPS_A_SEGMENT;
      });
    }
    if (this.choice.never.some((never) => overlaps(never, span))) return;
    this.kept.add({ startFrame, endFrame: this.frame, energy }, () => this.sums.map(segmentMean));
  }
}

/** In a plain loop: a segment is kept again and again, and `from` makes an object of every value. */
function segmentMean(sum: Float64Array): Float32Array {
  const mean = new Float32Array(sum.length);
  for (let k = 0; k < sum.length; k++) mean[k] = sum[k] / HOPS_A_SEGMENT;
  return mean;
}

function totalOf(values: Float64Array): number {
  let total = 0;
  for (let k = 0; k < values.length; k++) total += values[k];
  return total;
}
