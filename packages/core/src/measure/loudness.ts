import { kWeighting } from '../dsp/k-weighting.ts';
import type { Section } from '../dsp/section.ts';
import { powerToDb } from '../signal/decibels.ts';
import { type Block, framesOf, type SignalFormat } from '../signal/signal.ts';
import { subBlockStart } from './sub-blocks.ts';

/** ITU-R BS.1770-5: weights by channel, in the order of WAVE files. Surrounds 1.41, LFE left out, rear of 7.1 1.0. */
const CHANNEL_WEIGHTS: Readonly<Record<number, readonly number[]>> = {
  1: [1],
  2: [1, 1],
  3: [1, 1, 1],
  4: [1, 1, 1.41, 1.41],
  5: [1, 1, 1, 1.41, 1.41],
  6: [1, 1, 1, 0, 1.41, 1.41],
  7: [1, 1, 1, 0, 1, 1.41, 1.41],
  8: [1, 1, 1, 0, 1, 1, 1.41, 1.41],
};

const PER_SECOND = 100; // sub-blocks of 10 ms
const MOMENTARY = 40; // 400 ms
const SHORT_TERM = 300; // 3 s
const HOP = 10; // gating blocks and short-term values every 100 ms
const ABSOLUTE_GATE = 10 ** ((-70 + 0.691) / 10);

export const powerToLufs = (power: number): number => -0.691 + powerToDb(power);

export interface LoudnessFigures {
  /** LUFS; -Infinity where there is none. */
  integratedLufs: number;
  maxMomentaryLufs: number;
  maxShortTermLufs: number;
  /** LU, or null where no short-term value passes the gates. */
  loudnessRangeLu: number | null;
}

/** Filters one channel by both K-weighting sections and returns the energy; state = [4 of the shelf, 4 of the high-pass]. */
function weightedEnergy(
  samples: Float32Array,
  start: number,
  end: number,
  shelf: Section,
  pass: Section,
  state: Float64Array,
): number {
  const b0 = shelf[0];
  const b1 = shelf[1];
  const b2 = shelf[2];
  const a1 = shelf[3];
  const a2 = shelf[4];
  const c1 = pass[3];
  const c2 = pass[4];
  let x1 = state[0];
  let x2 = state[1];
  let y1 = state[2];
  let y2 = state[3];
  let z1 = state[4];
  let z2 = state[5];
  let energy = 0;
  for (let i = start; i < end; i++) {
    const x = samples[i];
    const y = b0 * x + (b1 * x1 + b2 * x2) - (a1 * y1 + a2 * y2);
    const z = y - 2 * y1 + y2 - (c1 * z1 + c2 * z2);
    x2 = x1;
    x1 = x;
    y2 = y1;
    y1 = y;
    z2 = z1;
    z1 = z;
    energy += z * z;
  }
  state[0] = x1;
  state[1] = x2;
  state[2] = Math.abs(y1) < 1e-25 ? 0 : y1;
  state[3] = Math.abs(y2) < 1e-25 ? 0 : y2;
  state[4] = Math.abs(z1) < 1e-25 ? 0 : z1;
  state[5] = Math.abs(z2) < 1e-25 ? 0 : z2;
  return energy;
}

/** Programme loudness by EBU R 128: momentary every 10 ms, short-term and gating blocks every 100 ms. */
export class LoudnessMeter {
  private readonly shelf: Section;
  private readonly pass: Section;
  private readonly weights: readonly number[];
  private readonly states: Float64Array[];
  /** Weighted energy of the last sub-blocks, a ring of SHORT_TERM. */
  private readonly recent = new Float64Array(SHORT_TERM);
  private energy = 0;
  private frame = 0;
  private subBlock = 0;
  private subBlockEnd: number;
  private maxMomentary = 0;
  private maxShortTerm = 0;
  private readonly gatingPowers: number[] = [];
  private readonly shortTermPowers: number[] = [];
  private readonly tenthPowers: number[] | undefined;

  /** @param subBlocks also keep the loudness of every single 100 ms */
  constructor(
    private readonly format: SignalFormat,
    { subBlocks = false }: { subBlocks?: boolean } = {},
  ) {
    this.tenthPowers = subBlocks ? [] : undefined;
    [this.shelf, this.pass] = kWeighting(format.sampleRateHz);
    this.weights = CHANNEL_WEIGHTS[format.channels] ?? new Array(format.channels).fill(1);
    this.states = this.weights.map(() => new Float64Array(6));
    this.subBlockEnd = subBlockStart(1, format.sampleRateHz, PER_SECOND);
  }

  hear(block: Block): void {
    const frames = framesOf(block);
    let start = 0;
    while (start < frames) {
      const end = Math.min(frames, start + this.subBlockEnd - this.frame);
      for (let c = 0; c < block.length; c++) {
        if (!this.weights[c]) continue;
        this.energy += this.weights[c] * weightedEnergy(block[c], start, end, this.shelf, this.pass, this.states[c]);
      }
      this.frame += end - start;
      start = end;
      if (this.frame === this.subBlockEnd) this.endSubBlock();
    }
  }

  /** Loudness of the last 400 ms and 3 s, in LUFS; NaN until there are so many. */
  get now(): { momentaryLufs: number; shortTermLufs: number } {
    return {
      momentaryLufs: this.subBlock < MOMENTARY ? Number.NaN : powerToLufs(this.meanPower(MOMENTARY)),
      shortTermLufs: this.subBlock < SHORT_TERM ? Number.NaN : powerToLufs(this.meanPower(SHORT_TERM)),
    };
  }

  conclude(): LoudnessFigures {
    return {
      integratedLufs: powerToLufs(gatedMean(this.gatingPowers, 0.1)),
      maxMomentaryLufs: powerToLufs(this.maxMomentary),
      maxShortTermLufs: powerToLufs(this.maxShortTerm),
      loudnessRangeLu: loudnessRange(this.shortTermPowers),
    };
  }

  /** Loudness over time in LUFS, ten values a second; the first ends after 0.4 s and after 3 s. */
  get series(): { momentaryLufs: Float32Array; shortTermLufs: Float32Array } {
    return {
      momentaryLufs: Float32Array.from(this.gatingPowers, powerToLufs),
      shortTermLufs: Float32Array.from(this.shortTermPowers, powerToLufs),
    };
  }

  /** Loudness of every 100 ms in LUFS, where it was asked for; -Infinity in silence. */
  get tenths(): Float32Array {
    return Float32Array.from(this.tenthPowers ?? [], powerToLufs);
  }

  private endSubBlock(): void {
    this.recent[this.subBlock % SHORT_TERM] = this.energy;
    this.energy = 0;
    this.subBlock++;
    this.subBlockEnd = subBlockStart(this.subBlock + 1, this.format.sampleRateHz, PER_SECOND);
    if (this.tenthPowers && this.subBlock % HOP === 0) this.tenthPowers.push(this.meanPower(HOP));
    if (this.subBlock < MOMENTARY) return;
    const momentary = this.meanPower(MOMENTARY);
    if (momentary > this.maxMomentary) this.maxMomentary = momentary;
    if (this.subBlock % HOP) return;
    this.gatingPowers.push(momentary);
    if (this.subBlock < SHORT_TERM) return;
    const shortTerm = this.meanPower(SHORT_TERM);
    if (shortTerm > this.maxShortTerm) this.maxShortTerm = shortTerm;
    this.shortTermPowers.push(shortTerm);
  }

  private meanPower(subBlocks: number): number {
    let energy = 0;
    for (let k = this.subBlock - subBlocks; k < this.subBlock; k++) energy += this.recent[k % SHORT_TERM];
    const rate = this.format.sampleRateHz;
    const first = subBlockStart(this.subBlock - subBlocks, rate, PER_SECOND);
    return energy / (subBlockStart(this.subBlock, rate, PER_SECOND) - first);
  }
}

const mean = (values: readonly number[]): number =>
  values.length ? values.reduce((sum, value) => sum + value, 0) / values.length : 0;

/** Mean of the powers over -70 LUFS and over `relative` times their mean. */
function gatedMean(powers: readonly number[], relative: number): number {
  const loud = powers.filter((power) => power > ABSOLUTE_GATE);
  const gate = relative * mean(loud);
  return mean(loud.filter((power) => power > gate));
}

/** EBU Tech 3342: 10th to 95th percentile of the short-term loudness over -70 LUFS and over -20 LU below its mean. */
function loudnessRange(powers: readonly number[]): number | null {
  const loud = powers.filter((power) => power > ABSOLUTE_GATE);
  const gate = 0.01 * mean(loud);
  const kept = loud.filter((power) => power >= gate).sort((a, b) => a - b);
  if (!kept.length) return null;
  const at = (share: number) => kept[Math.round((kept.length - 1) * share)];
  return powerToDb(at(0.95) / at(0.1));
}
