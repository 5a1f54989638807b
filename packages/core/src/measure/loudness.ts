import { held, kernels, MOST_FRAMES, once, roomFor } from '@tonos/kernels';
import { kWeighting } from '../dsp/k-weighting.ts';
import { cut } from '../signal/memory.ts';
import { type Block, framesOf, type SignalFormat, speakersOf } from '../signal/signal.ts';
import { loudnessWeights } from '../signal/speakers.ts';
import { LoudnessHistogram, powerToLufs } from './loudness-histogram.ts';
import { subBlockStart } from './sub-blocks.ts';

const PER_SECOND = 100; // sub-blocks of 10 ms
const MOMENTARY = 40; // 400 ms
const SHORT_TERM = 300; // 3 s
const HOP = 10; // gating blocks and short-term values every 100 ms

export interface LoudnessFigures {
  /** LUFS; -Infinity where there is none. */
  integratedLufs: number;
  maxMomentaryLufs: number;
  maxShortTermLufs: number;
  /** LU, or null where no short-term value passes the gates. */
  loudnessRangeLu: number | null;
}

/** Where coefficients and state lie for the kernel while it runs, shared by all meters of a thread. */
const room = once(() => ({ coefficients: roomFor(16), state: roomFor(16), other: roomFor(16), out: roomFor(4) }));

function keep(f64: Float64Array, at: number, state: Float64Array): void {
  for (let i = 0; i < state.length; i++) state[i] = f64[(at >> 3) + i];
}

/** Programme loudness by EBU R 128: momentary every 10 ms, short-term and gating blocks every 100 ms. */
export class LoudnessMeter {
  private readonly kernel = kernels();
  private readonly room = room();
  /** b0 b1 b2 a1 a2 of the shelf, a1 a2 of the high-pass. */
  private readonly coefficients: readonly number[];
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
  private readonly gating = new LoudnessHistogram();
  private readonly shortTerm = new LoudnessHistogram();
  /** Kept where asked for: 0.3 MB an hour each, since every value is one of 100 ms. */
  private readonly kept: { momentary: number[]; shortTerm: number[]; tenths: number[] };

  /** @param series keep momentary and short-term loudness over time; @param subBlocks keep that of every single 100 ms */
  constructor(
    private readonly format: SignalFormat,
    private readonly keeps: { series?: boolean; subBlocks?: boolean } = {},
  ) {
    this.kept = { momentary: [], shortTerm: [], tenths: [] };
    const [shelf, pass] = kWeighting(format.sampleRateHz);
    this.coefficients = [...shelf, pass[3], pass[4]];
    this.weights = loudnessWeights(speakersOf(format));
    this.states = this.weights.map(() => new Float64Array(6));
    this.subBlockEnd = subBlockStart(1, format.sampleRateHz, PER_SECOND);
  }

  hear(block: Block): void {
    for (const piece of cut(block, MOST_FRAMES)) this.hearPiece(piece);
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
      integratedLufs: this.gating.gatedLufs(),
      maxMomentaryLufs: powerToLufs(this.maxMomentary),
      maxShortTermLufs: powerToLufs(this.maxShortTerm),
      loudnessRangeLu: this.shortTerm.rangeLu(),
    };
  }

  /** Loudness over time in LUFS, ten values a second; the first ends after 0.4 s and after 3 s. */
  get series(): { momentaryLufs: Float32Array; shortTermLufs: Float32Array } {
    return {
      momentaryLufs: Float32Array.from(this.kept.momentary, powerToLufs),
      shortTermLufs: Float32Array.from(this.kept.shortTerm, powerToLufs),
    };
  }

  /** Loudness of every 100 ms in LUFS, where it was asked for; -Infinity in silence. */
  get tenths(): Float32Array {
    return Float32Array.from(this.kept.tenths, powerToLufs);
  }

  private hearPiece(block: Block): void {
    const frames = framesOf(block);
    const places = block.map((channel, c) => (this.weights[c] ? held(channel, c) : 0));
    this.kernel.f64.set(this.coefficients, this.room.coefficients >> 3);
    let start = 0;
    while (start < frames) {
      const end = Math.min(frames, start + this.subBlockEnd - this.frame);
      this.energy += this.weightedPower(places, 4 * start, end - start);
      this.frame += end - start;
      start = end;
      if (this.frame === this.subBlockEnd) this.endSubBlock();
    }
  }

  /** Energy of a stretch of all channels after K-weighting, each by its weight. */
  private weightedPower(places: readonly number[], from: number, frames: number): number {
    const { kernel, weights, states } = this;
    const { coefficients, state, other, out } = this.room;
    const { f64 } = kernel;
    if (places.length === 2) {
      f64.set(states[0], state >> 3);
      f64.set(states[1], other >> 3);
      kernel.weightedEnergies(places[0] + from, places[1] + from, frames, coefficients, state, other, out);
      keep(f64, state, states[0]);
      keep(f64, other, states[1]);
      return weights[0] * f64[out >> 3] + weights[1] * f64[(out >> 3) + 1];
    }
    let power = 0;
    for (let c = 0; c < places.length; c++) {
      if (!weights[c]) continue;
      f64.set(states[c], state >> 3);
      power += weights[c] * kernel.weightedEnergy(places[c] + from, frames, coefficients, state);
      keep(f64, state, states[c]);
    }
    return power;
  }

  private endSubBlock(): void {
    this.recent[this.subBlock % SHORT_TERM] = this.energy;
    this.energy = 0;
    this.subBlock++;
    this.subBlockEnd = subBlockStart(this.subBlock + 1, this.format.sampleRateHz, PER_SECOND);
    if (this.keeps.subBlocks && this.subBlock % HOP === 0) this.kept.tenths.push(this.meanPower(HOP));
    if (this.subBlock < MOMENTARY) return;
    const momentary = this.meanPower(MOMENTARY);
    if (momentary > this.maxMomentary) this.maxMomentary = momentary;
    if (this.subBlock % HOP) return;
    this.gating.add(momentary);
    if (this.keeps.series) this.kept.momentary.push(momentary);
    if (this.subBlock < SHORT_TERM) return;
    const shortTerm = this.meanPower(SHORT_TERM);
    if (shortTerm > this.maxShortTerm) this.maxShortTerm = shortTerm;
    this.shortTerm.add(shortTerm);
    if (this.keeps.series) this.kept.shortTerm.push(shortTerm);
  }

  private meanPower(subBlocks: number): number {
    let energy = 0;
    for (let k = this.subBlock - subBlocks; k < this.subBlock; k++) energy += this.recent[k % SHORT_TERM];
    const rate = this.format.sampleRateHz;
    const first = subBlockStart(this.subBlock - subBlocks, rate, PER_SECOND);
    return energy / (subBlockStart(this.subBlock, rate, PER_SECOND) - first);
  }
}
