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

/** The level of the measure that is aimed for. */
class AimMeter {
  private readonly loudness: LoudnessMeter | undefined;
  private readonly levels: LevelMeter;

  constructor(measure: AimedMeasure | undefined, format: SignalFormat) {
    this.loudness = measure === 'integratedLufs' ? new LoudnessMeter(format) : undefined;
    this.levels = new LevelMeter(format.channels);
  }

  hear(block: Block): void {
    this.loudness?.hear(block);
    this.levels.hear(block);
  }

  /** Minus infinity where there is none. */
  conclude(): { levelDb: number; peakDb: number; silent: boolean } {
    const { meanSquare, samplePeak } = this.levels.conclude();
    return {
      levelDb: this.loudness ? this.loudness.conclude().integratedLufs : powerToDb(meanSquare),
      peakDb: powerToDb(samplePeak ** 2),
      silent: meanSquare === 0,
    };
  }
}

/** What the laid-out signal measures; null where the target aims for no level. */
export interface LaidOut {
  heardDb: number | null;
  /** Sample peak. */
  peakDb: number;
}

/** Changes layout and rate, writes to `sink`, and answers the level of the measure aimed for. */
export async function layOut(
  source: Source,
  sink: Sink,
  target: TargetFile,
  options: { signal?: CancelSignal; progress?: (frames: number) => void } = {},
): Promise<LaidOut> {
  const format = deliveredFormat(target, source.format);
  const resampler =
    format.sampleRateHz === source.format.sampleRateHz
      ? undefined
      : new Resampler(source.format.sampleRateHz, format.sampleRateHz, format.channels);
  const aim = aimOf(target.limits);
  const meter = new AimMeter(aim?.measure, format);
  const take = async (block: Block) => {
    if (!framesOf(block)) return;
    meter.hear(block);
    await sink.write(block);
  };
  for await (const block of source.blocks({ signal: options.signal })) {
    const laidOut = changeLayout(block, format.channels);
    await take(resampler ? resampler.push(laidOut) : laidOut);
    options.progress?.(framesOf(block));
  }
  if (resampler) await take(resampler.flush());
  const { levelDb, peakDb, silent } = meter.conclude();
  if (silent)
    throw new SignalError('silence', 'The sound is digital silence: there is no level to bring to the target.');
  if (!aim) return { heardDb: null, peakDb };
  if (!Number.isFinite(levelDb)) {
    throw new SignalError(
      'too-quiet',
      'The sound is shorter than 0.4 s or below \u221270 LUFS throughout: it has no loudness to bring to the target.',
    );
  }
  return { heardDb: levelDb, peakDb };
}

/** The level of the measure that a target aims for; null where it aims for none, or there is none. */
export function levelAimedFor(target: TargetFile, figures: Pick<SoundFigures, AimedMeasure>): number | null {
  const aim = aimOf(target.limits);
  return aim ? figures[aim.measure] : null;
}

const AIM_TOLERANCE_DB = 0.05;
/** The ceiling starts a little under the limit: about so much is added to a peak by dither and rounding, and by lossy encoders. */
const HEADROOM_DB = { lossless: 0.05, lossy: 0.25, small: 0.75 };
/** A smaller file changes peaks more. */
const SMALL_KBPS = 64;
/** A lossy encoder answers a lower ceiling with another overshoot: each correction that was not enough is followed by a bolder one. */
const BOLDER = 2;
const MOST_GAIN_DB = 60;

/** Gain and ceiling for one round of delivering, and how the next differs. */
export interface FinishPlan {
  readonly gainDb: number;
  readonly ceilingDbtp: number | undefined;
  /** How far beyond the overshoot the next correction goes. */
  readonly headroomDb: number;
  /** How much of a decibel of gain arrives: the limiter takes the rest. */
  readonly arriving: number;
}

export function firstPlan(target: TargetFile, heardDb: number | null): FinishPlan {
  const aim = aimOf(target.limits);
  const peaks = peakLimits(target.limits);
  const { bitrateKbps } = target.output;
  const headroomDb = HEADROOM_DB[!bitrateKbps ? 'lossless' : bitrateKbps < SMALL_KBPS ? 'small' : 'lossy'];
  return {
    gainDb: aim && heardDb !== null ? Math.min(MOST_GAIN_DB, aim.aim - heardDb) : 0,
    ceilingDbtp: peaks.length ? Math.min(...peaks.map(({ max }) => max!)) - headroomDb : undefined,
    headroomDb,
    arriving: 1,
  };
}

const SETTLING_ROUNDS = 3;
const LEAST_ARRIVING = 0.25;
/** Between samples a peak can lie so much higher than at them, in speech. */
const BETWEEN_SAMPLES_DB = 1;

/**
 * The plan with the gain that lands on the aim through the limiter, found by the secant method before anything is encoded:
 * every round of encoding that this spares costs ten times as much.
 */
export async function settledPlan(
  first: FinishPlan,
  source: Source,
  target: TargetFile,
  { peakDb, ...options }: { peakDb: number; signal?: CancelSignal },
): Promise<FinishPlan> {
  const aim = aimOf(target.limits);
  const { ceilingDbtp } = first;
  if (!aim || ceilingDbtp === undefined || peakDb + BETWEEN_SAMPLES_DB + first.gainDb <= ceilingDbtp) return first;
  let plan = first;
  let before: { gainDb: number; levelDb: number } | undefined;
  for (let round = 0; round < SETTLING_ROUNDS; round++) {
    const meter = new AimMeter(aim.measure, source.format);
    await applyPlan(plan, source, { write: async (block) => meter.hear(block) }, options);
    const { levelDb } = meter.conclude();
    const { gainDb } = plan;
    if (Math.abs(aim.aim - levelDb) <= AIM_TOLERANCE_DB / 2) break;
    const arriving = before ? (levelDb - before.levelDb) / (gainDb - before.gainDb) : plan.arriving;
    before = { gainDb, levelDb };
    plan = moreGain({ ...plan, arriving: Math.min(1, Math.max(LEAST_ARRIVING, arriving)) }, aim.aim - levelDb);
  }
  return plan;
}

const moreGain = (plan: FinishPlan, missDb: number): FinishPlan => ({
  ...plan,
  gainDb: Math.min(MOST_GAIN_DB, plan.gainDb + missDb / plan.arriving),
});

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
  const next = moreGain(plan, miss);
  if (over === 0 || plan.ceilingDbtp === undefined) return next;
  return {
    ...next,
    ceilingDbtp: plan.ceilingDbtp - over - plan.headroomDb,
    headroomDb: plan.headroomDb * BOLDER,
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
