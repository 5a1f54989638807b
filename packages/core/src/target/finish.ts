import type { ConfiguredStep } from '../chain/chain-file.ts';
import { RunningSteps } from '../chain/step-runner.ts';
import type { SoundFigures } from '../measure/measurement.ts';
import { type CancelSignal, framesOf, type Sink, type Source } from '../signal/signal.ts';
import { gain } from '../steps/gain/gain.ts';
import { limiter } from '../steps/limiter/limiter.ts';
import { AimMeter, aimOf } from './aim.ts';
import type { LaidOut } from './lay-out.ts';
import type { Limit, TargetFile } from './target-file.ts';

/**
 * The finish lands a signal that is laid out on its target: one gain to the level aimed for, a true-peak limiter under the peak limit.
 * Both are settled by a `FinishPlan`, which is corrected by what the decoded delivery measures.
 */

const peakLimits = (limits: readonly Limit[]) =>
  limits.filter(({ measure, max }) => max !== null && (measure === 'truePeakDbtp' || measure === 'samplePeakDbfs'));

const AIM_TOLERANCE_DB = 0.05;
/** The ceiling starts a little under the limit: about so much is added to a peak by dither and rounding, and by lossy encoders. */
const HEADROOM_DB = { lossless: 0.05, lossy: 0.25, small: 0.75 };
/** A smaller file changes peaks more. */
const SMALL_KBPS = 64;
/** A lossy encoder answers a lower ceiling with another overshoot: each correction that was not enough is followed by a bolder one. */
const BOLDER = 2;
/** No recording is raised by more; integers that were written as floats are lowered by more than that. */
export const MOST_GAIN_DB = 60;
const LEAST_GAIN_DB = -150;
const possible = (gainDb: number): number => Math.max(LEAST_GAIN_DB, Math.min(MOST_GAIN_DB, gainDb));

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
    gainDb: aim && heardDb !== null ? possible(aim.aim - heardDb) : 0,
    ceilingDbtp: peaks.length ? Math.min(...peaks.map(({ max }) => max!)) - headroomDb : undefined,
    headroomDb,
    arriving: 1,
  };
}

const SETTLING_ROUNDS = 3;
/** Nearer than that it need not be heard again. */
const SETTLED_DB = AIM_TOLERANCE_DB / 2;
const LEAST_ARRIVING = 0.25;
/** Between samples a peak can lie so much higher than at them, in speech. */
const BETWEEN_SAMPLES_DB = 1;

interface Arrived {
  gainDb: number;
  levelDb: number;
}

/**
 * The plan with the gain that lands on the aim through the limiter, found by the secant method before anything is encoded:
 * every round of encoding that this spares costs ten times as much. The first step goes by a parabola that leaves the straight line where the
 * limiter begins; what a step will still miss by is told by how the curve has bent so far, so that the last one need not be heard.
 * @param laidOut what the source measures without any gain
 */
export async function settledPlan(
  first: FinishPlan,
  source: Source,
  target: TargetFile,
  { laidOut, ...options }: { laidOut: LaidOut; signal?: CancelSignal },
): Promise<FinishPlan> {
  const aim = aimOf(target.limits);
  const { ceilingDbtp } = first;
  const { heardDb, peakDb } = laidOut;
  if (!aim || heardDb === null || ceilingDbtp === undefined) return first;
  const onsetDb = ceilingDbtp - peakDb;
  if (first.gainDb + BETWEEN_SAMPLES_DB <= onsetDb) return first;
  let plan = first;
  const arrived: Arrived[] = [{ gainDb: onsetDb, levelDb: heardDb + onsetDb }];
  for (let round = 0; round < SETTLING_ROUNDS; round++) {
    const meter = new AimMeter(aim.measure, source.format);
    await applyPlan(plan, source, { write: async (block) => meter.hear(block) }, options);
    const { gainDb } = plan;
    const { levelDb } = meter.conclude();
    arrived.push({ gainDb, levelDb });
    if (Math.abs(aim.aim - levelDb) <= SETTLED_DB) break;
    const missDb = aim.aim - levelDb;
    const slope = round ? slopeOf(arrived.slice(-2)) : slopeBehind(arrived[0], arrived[1]);
    const arriving = Math.min(1, Math.max(LEAST_ARRIVING, slope));
    plan = moreGain({ ...plan, arriving }, missDb);
    // at the end of what gain there is nothing more to be found
    if (plan.gainDb === gainDb) break;
    // a first step may be off by as much as it has bent, a later one by twice what the curve says
    const left = round ? 2 * bendOf(arrived.slice(-3), plan.gainDb) : Math.abs((1 - arriving) * (plan.gainDb - gainDb));
    if (left <= SETTLED_DB) break;
  }
  return plan;
}

const slopeOf = ([from, to]: readonly Arrived[]): number => (to.levelDb - from.levelDb) / (to.gainDb - from.gainDb);

/** How much of a decibel arrives at a gain, by a parabola that leaves the line of a gain without a limiter at its onset. */
function slopeBehind(onset: Arrived, at: Arrived): number {
  const beyond = at.gainDb - onset.gainDb;
  const taken = onset.levelDb + beyond - at.levelDb;
  return 1 - (2 * taken) / Math.max(beyond, BETWEEN_SAMPLES_DB);
}

/** By how much a parabola through three points differs at a gain from the line through the last two (Newton). */
function bendOf([far, near, last]: readonly Arrived[], gainDb: number): number {
  const bend = (slopeOf([near, last]) - slopeOf([far, near])) / (last.gainDb - far.gainDb);
  return Math.abs(bend * (gainDb - near.gainDb) * (gainDb - last.gainDb));
}

const moreGain = (plan: FinishPlan, missDb: number): FinishPlan => ({
  ...plan,
  gainDb: possible(plan.gainDb + missDb / plan.arriving),
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
  if (over === 0 || plan.ceilingDbtp === undefined) return next.gainDb === plan.gainDb ? undefined : next;
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
    { id: 'finish-gain', definition: gain, mix: 1, settings: { ...gain.settings.parse({}), gainDb: plan.gainDb } },
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
