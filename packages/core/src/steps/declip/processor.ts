import { interpolate, predictor } from '../../dsp/autoregression.ts';
import { StretchRepair } from '../../dsp/stretch-repair.ts';
import { dbToGain } from '../../signal/decibels.ts';
import { type Block, millisecondsToFrames, type SignalFormat } from '../../signal/signal.ts';
import { noTrace, type Processor } from '../step.ts';
import { type Ceilings, FLAT, LEAST_RUN } from './ceiling-study.ts';
import type { DeclipFindings, DeclipSettings } from './settings.ts';

const STRETCH_MS = 20;
const REACH_MS = 20;
const ORDER_MS = 0.7;
const ROUNDS = 3;
/** Samples that are rebuilt together. What is cut for longer holds no trace of what was there, and is left. */
const MOST_TOGETHER = 400;

/** Samples at a ceiling are rebuilt by what foretells the others; never under the ceiling, never over the headroom. */
export class DeclipProcessor implements Processor<DeclipSettings> {
  readonly latencyFrames: number;
  readonly takeTrace = noTrace;
  private readonly channels: StretchRepair[];
  private readonly order: number;

  constructor(
    private settings: DeclipSettings,
    format: SignalFormat,
    { ceilings }: DeclipFindings,
  ) {
    const frames = (ms: number) => millisecondsToFrames(ms, format.sampleRateHz);
    this.order = Math.max(16, frames(ORDER_MS));
    this.channels = Array.from({ length: format.channels }, (_, c) => {
      const own = ceilings?.[c] ?? { high: null, low: null };
      const reach = Math.max(frames(REACH_MS), 2 * this.order);
      return new StretchRepair(frames(STRETCH_MS), reach, (seen, from, to) => this.repair(seen, from, to, own));
    });
    this.latencyFrames = this.channels[0].latencyFrames;
  }

  update(settings: DeclipSettings): void {
    this.settings = settings;
  }

  process(block: Block): void {
    block.forEach((channel, c) => {
      this.channels[c].process(channel);
    });
  }

  private repair(seen: Float64Array, from: number, to: number, ceilings: Ceilings): undefined {
    const most = dbToGain(this.settings.headroomDb);
    const groups = groupsOf(clippedSamples(seen, ceilings), this.order)
      .map((group) => group.filter((i) => i >= this.order && i < seen.length - this.order))
      .filter((group) => group.length <= MOST_TOGETHER && group.some((i) => i >= from && i < to));
    if (!groups.length) return;
    const guess = seen.slice();
    for (let round = 0; round < ROUNDS; round++) {
      const a = predictor(guess, this.order);
      for (const group of groups) {
        interpolate(guess, group, a);
        for (const at of group) {
          const [sign, least] = [Math.sign(seen[at]), Math.abs(seen[at])];
          guess[at] = sign * Math.min(most * least, Math.max(least, sign * guess[at]));
        }
      }
    }
    for (const i of groups.flat()) if (i >= from && i < to) seen[i] = guess[i];
  }
}

/** Samples that are nearer to each other than the predictor reaches are rebuilt together. */
function groupsOf(samples: readonly number[], order: number): number[][] {
  const groups: number[][] = [];
  for (const at of samples) {
    const last = groups.at(-1);
    if (last && at - last[last.length - 1] <= order) last.push(at);
    else groups.push([at]);
  }
  return groups;
}

/** All samples of runs at a ceiling. */
function clippedSamples(seen: Float64Array, { high, low }: Ceilings): number[] {
  const clipped: number[] = [];
  let run: number[] = [];
  for (let i = 0; i <= seen.length; i++) {
    const x = seen[i];
    const flat = (high !== null && Math.abs(x - high) <= 2 * FLAT) || (low !== null && Math.abs(x - low) <= 2 * FLAT);
    if (i < seen.length && flat) run.push(i);
    else {
      if (run.length >= LEAST_RUN) clipped.push(...run);
      run = [];
    }
  }
  return clipped;
}
