import type { ConfiguredStep } from '../chain/chain-file.ts';
import { RunningSteps } from '../chain/step-runner.ts';
import { Resampler } from '../dsp/resampler.ts';
import { LevelMeter } from '../measure/levels.ts';
import { LoudnessMeter } from '../measure/loudness.ts';
import type { SoundFigures } from '../measure/measurement.ts';
import { powerToDb } from '../signal/decibels.ts';
import { SignalError } from '../signal/errors.ts';
import {
  type Block,
  type CancelSignal,
  framesOf,
  type SignalFormat,
  type Sink,
  type Source,
} from '../signal/signal.ts';
import { gain } from '../steps/gain/gain.ts';
import { limiter } from '../steps/limiter/limiter.ts';
import type { Limit, TargetFile } from './target-file.ts';

/**
 * The finish lands a signal on a target: channel layout, sample rate, one gain to the level aimed for, a true-peak limiter
 * under the peak limit. The lossless part is done once (`layOut`); the gain and the ceiling are settled by `FinishPlan`, which
 * is corrected by what the decoded delivery measures.
 */

/** Opus knows one rate only. */
const OPUS_RATE_HZ = 48000;

export const deliveredFormat = ({ output }: TargetFile, source: SignalFormat): SignalFormat => ({
  sampleRateHz: output.container === 'opus' ? OPUS_RATE_HZ : (output.sampleRateHz ?? source.sampleRateHz),
  channels: output.channels ?? source.channels,
});

/** Mono is the mean of the channels; stereo from mono repeats it; more channels to stereo: odd ones left, even ones right. */
export function changeLayout(block: Block, channels: number): Block {
  if (block.length === channels) return block;
  if (block.length === 1) return Array.from({ length: channels }, () => block[0].slice());
  const groups = Array.from({ length: channels }, (_, c) =>
    block.filter((__, i) => channels === 1 || i % channels === c),
  );
  return groups.map((group) => {
    const mixed = new Float32Array(framesOf(block));
    for (const channel of group) for (let i = 0; i < mixed.length; i++) mixed[i] += channel[i] / group.length;
    return mixed;
  });
}

type AimedMeasure = 'integratedLufs' | 'rmsDbfs';

const aimOf = (limits: readonly Limit[]): { measure: AimedMeasure; aim: number } | undefined => {
  const found = limits.find(
    ({ measure, aim }) => aim !== undefined && (measure === 'integratedLufs' || measure === 'rmsDbfs'),
  );
  return found && { measure: found.measure as AimedMeasure, aim: found.aim! };
};

const peakLimits = (limits: readonly Limit[]) =>
  limits.filter(({ measure, max }) => max !== null && (measure === 'truePeakDbtp' || measure === 'samplePeakDbfs'));

/** Changes layout and rate, writes to `sink`, and answers the level of the measure aimed for. */
export async function layOut(
  source: Source,
  sink: Sink,
  target: TargetFile,
  options: { signal?: CancelSignal; progress?: (frames: number) => void } = {},
): Promise<{ heardDb: number | null }> {
  const format = deliveredFormat(target, source.format);
  const resampler =
    format.sampleRateHz === source.format.sampleRateHz
      ? undefined
      : new Resampler(source.format.sampleRateHz, format.sampleRateHz, format.channels);
  const loudness = new LoudnessMeter(format);
  const levels = new LevelMeter(format.channels);
  const take = async (block: Block) => {
    if (!framesOf(block)) return;
    loudness.hear(block);
    levels.hear(block);
    await sink.write(block);
  };
  for await (const block of source.blocks({ signal: options.signal })) {
    const laidOut = changeLayout(block, format.channels);
    await take(resampler ? resampler.push(laidOut) : laidOut);
    options.progress?.(framesOf(block));
  }
  if (resampler) await take(resampler.flush());
  const { meanSquare } = levels.conclude();
  if (meanSquare === 0)
    throw new SignalError('silence', 'The sound is digital silence: there is no level to bring to the target.');
  const aim = aimOf(target.limits);
  if (!aim) return { heardDb: null };
  const heardDb = aim.measure === 'rmsDbfs' ? powerToDb(meanSquare) : loudness.conclude().integratedLufs;
  if (!Number.isFinite(heardDb)) {
    throw new SignalError(
      'too-quiet',
      'The sound is shorter than 0.4 s or below \u221270 LUFS throughout: it has no loudness to bring to the target.',
    );
  }
  return { heardDb };
}

/** The level of the measure that a target aims for; null where it aims for none, or there is none. */
export function levelAimedFor(target: TargetFile, figures: Pick<SoundFigures, AimedMeasure>): number | null {
  const aim = aimOf(target.limits);
  return aim ? figures[aim.measure] : null;
}

const AIM_TOLERANCE_DB = 0.05;
/** The ceiling starts a little under the limit: 16-bit dither and rounding add about so much to a peak. */
const HEADROOM_DB = 0.05;
const MOST_GAIN_DB = 60;

/** Gain and ceiling for one round of delivering, and how the next differs. */
export interface FinishPlan {
  readonly gainDb: number;
  readonly ceilingDbtp: number | undefined;
}

export function firstPlan(target: TargetFile, heardDb: number | null): FinishPlan {
  const aim = aimOf(target.limits);
  const peaks = peakLimits(target.limits);
  return {
    gainDb: aim && heardDb !== null ? Math.min(MOST_GAIN_DB, aim.aim - heardDb) : 0,
    ceilingDbtp: peaks.length ? Math.min(...peaks.map(({ max }) => max!)) - HEADROOM_DB : undefined,
  };
}

/** The plan of the next round from what the delivery measured, or undefined where it has landed. */
export function correctedPlan(target: TargetFile, plan: FinishPlan, delivered: SoundFigures): FinishPlan | undefined {
  const aim = aimOf(target.limits);
  const value = aim ? delivered[aim.measure] : null;
  const miss = aim && value !== null ? aim.aim - value : 0;
  const overshoots = peakLimits(target.limits).map(
    ({ measure, max }) => ((delivered[measure] as number | null) ?? Number.NEGATIVE_INFINITY) - max!,
  );
  const over = Math.max(0, ...overshoots);
  if (Math.abs(miss) <= AIM_TOLERANCE_DB && over === 0) return undefined;
  return {
    gainDb: Math.min(MOST_GAIN_DB, plan.gainDb + miss),
    ceilingDbtp:
      plan.ceilingDbtp === undefined || over === 0 ? plan.ceilingDbtp : plan.ceilingDbtp - over - HEADROOM_DB,
  };
}

/** Applies a plan to a laid-out signal. */
export async function applyPlan(
  plan: FinishPlan,
  source: Source,
  sink: Sink,
  options: { signal?: CancelSignal; progress?: (frames: number) => void } = {},
): Promise<void> {
  const steps: ConfiguredStep[] = [
    { id: 'finish-gain', definition: gain, mix: 1, settings: gain.settings.parse({ gainDb: plan.gainDb }) },
  ];
  if (plan.ceilingDbtp !== undefined) {
    const settings = limiter.settings.parse({ ceilingDbtp: Math.max(-20, Math.min(0, plan.ceilingDbtp)) });
    steps.push({ id: 'finish-limiter', definition: limiter, mix: 1, settings });
  }
  const running = new RunningSteps(steps, source.format, {});
  for await (const block of source.blocks({ signal: options.signal })) {
    const frames = framesOf(block);
    const out = running.process(block);
    if (framesOf(out)) await sink.write(out);
    options.progress?.(frames);
  }
  for (const out of running.flush()) await sink.write(out);
}
