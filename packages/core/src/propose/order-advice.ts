import type { ChainStep } from '../chain/chain-file.ts';
import type { LedgerFigures } from '../chain/ledger.ts';
import { figure, plainFigure } from '../signal/figures.ts';
import { stepOfKind } from '../steps/index.ts';
import type { TargetFile } from '../target/target-file.ts';
import { ceilingUnder, isLossy, OVERSHOOT_DB } from './limiter-ceiling.ts';

/** What a doubtful order of steps will do. Advice, never a block. */
export interface OrderAdvice {
  code:
    | 'noise-reduction-late'
    | 'level-after-limiter'
    | 'boost-after-limiter'
    | 'level-set-twice'
    | 'high-pass-late'
    | 'repair-late'
    | 'gate-over-speech'
    | 'little-headroom';
  /** Place of the step in the chain, from 0. */
  step: number;
  message: string;
  /** The figure in question, in dB, where there is one. */
  figureDb?: number;
  /** What would mend it. */
  fix: AdvisedFix;
}

/** Places count from 0, as the chain is before the change. */
export type AdvisedFix =
  | { act: 'move'; from: number; to: number }
  | { act: 'remove'; at: number }
  | { act: 'set'; at: number; settings: Readonly<Record<string, unknown>> };

const RIDES = new Set(['compressor', 'multiband-compressor', 'leveller', 'expander', 'limiter']);
const SETS_LEVEL = new Set(['peak-normalise', 'rms-normalise', 'loudness-normalise']);
/** What must see the wave as it was recorded. */
const NEEDS_THE_ORIGINAL = new Set(['declip', 'declick']);
const BENDS_THE_WAVE = new Set(['high-pass', 'low-pass', 'parametric-eq', 'point-eq', 'saturation', 'noise-reduction']);

interface Placed {
  kind: string;
  /** What goes into it on the example, where that has been measured. */
  heard: LedgerFigures | undefined;
  index: number;
  title: string;
  settings: Record<string, unknown>;
}

/** Every rule looks at one step and those that run before it. */
type Rule = (step: Placed, before: readonly Placed[]) => OrderAdvice | undefined;

const lastOf = (steps: readonly Placed[], kinds: ReadonlySet<string>) => steps.findLast(({ kind }) => kinds.has(kind));
const moveBefore = (step: Placed, other: Placed | undefined): AdvisedFix => ({
  act: 'move',
  from: step.index,
  to: other?.index ?? 0,
});
/** Less is no reason. */
const LEAST_RAISED_DB = 0.5;

const differenceDb = (from: number | null | undefined, to: number | null | undefined): number | undefined =>
  typeof from === 'number' && typeof to === 'number' ? to - from : undefined;
const named = ({ title, index }: Placed) => `${title} (${index + 1})`;

const noiseReductionLate: Rule = (step, before) => {
  if (step.kind !== 'noise-reduction') return undefined;
  const [first, rides] = [before.find(({ kind }) => RIDES.has(kind)), lastOf(before, RIDES)];
  if (!rides) return undefined;
  const raisedDb = differenceDb(first?.heard?.noiseFloorDbfs, step.heard?.noiseFloorDbfs);
  const raised =
    raisedDb !== undefined && raisedDb > LEAST_RAISED_DB ? ` The floor is ${figure(raisedDb)} dB higher here.` : '';
  const message = `${named(rides)} changes the level of the room from moment to moment; noise that moves is found and taken less well.${raised} Move noise reduction before it.`;
  return {
    code: 'noise-reduction-late',
    step: step.index,
    message,
    ...(raised ? { figureDb: raisedDb } : {}),
    fix: moveBefore(step, first),
  };
};

const highPassLate: Rule = (step, before) => {
  if (step.kind !== 'high-pass') return undefined;
  const driven = lastOf(before, RIDES);
  const message = `Rumble below ${plainFigure(step.settings.frequencyHz as number)} Hz still drives ${named(driven ?? step)}, and turns the voice down with it. Move the high-pass before it.`;
  return (
    driven && {
      code: 'high-pass-late',
      step: step.index,
      message,
      fix: moveBefore(
        step,
        before.find(({ kind }) => RIDES.has(kind)),
      ),
    }
  );
};

/** By how many dB a step can raise the level. */
function raisesDb({ kind, settings }: Placed): number {
  if (kind === 'gain') return settings.gainDb as number;
  if (kind === 'compressor') return settings.makeupDb as number;
  if (kind === 'leveller') return settings.rangeDb as number;
  return SETS_LEVEL.has(kind) ? Number.POSITIVE_INFINITY : 0;
}

const levelAfterLimiter: Rule = (step, before) => {
  const limiter = lastOf(before, new Set(['limiter']));
  const by = raisesDb(step);
  if (!limiter || by <= 0) return undefined;
  const ceiling = limiter.settings.ceilingDbtp as number;
  const much = Number.isFinite(by) ? `by up to ${plainFigure(by)} dB` : 'to wherever its level lies';
  const message = `${step.title} raises peaks over the ceiling of ${plainFigure(ceiling)} dBTP again, ${much}. Move it before ${named(limiter)}.`;
  return {
    code: 'level-after-limiter',
    step: step.index,
    message,
    ...(Number.isFinite(by) ? { figureDb: by } : {}),
    fix: moveBefore(step, limiter),
  };
};

/** The largest boost of an equaliser, in dB. */
function boostDb({ kind, settings }: Placed): number {
  const list = kind === 'parametric-eq' ? settings.bands : kind === 'point-eq' ? settings.points : [];
  return Math.max(
    0,
    ...(list as { gainDb: number; on?: boolean }[]).filter(({ on }) => on !== false).map((b) => b.gainDb),
  );
}

const boostAfterLimiter: Rule = (step, before) => {
  const limiter = lastOf(before, new Set(['limiter']));
  const by = boostDb(step);
  if (!limiter || by <= 0) return undefined;
  const message = `A boost of ${plainFigure(by)} dB after ${named(limiter)} lifts peaks over its ceiling. Move it before the limiter.`;
  return { code: 'boost-after-limiter', step: step.index, message, figureDb: by, fix: moveBefore(step, limiter) };
};

const levelSetTwice: Rule = (step, before) => {
  const earlier = SETS_LEVEL.has(step.kind) ? lastOf(before, SETS_LEVEL) : undefined;
  if (!earlier || before.slice(earlier.index + 1).some(({ kind }) => RIDES.has(kind))) return undefined;
  const message = `${step.title} sets the level that ${named(earlier)} has set already; only the last one counts. Take one of them out.`;
  return { code: 'level-set-twice', step: step.index, message, fix: { act: 'remove', at: earlier.index } };
};

const repairLate: Rule = (step, before) => {
  if (!NEEDS_THE_ORIGINAL.has(step.kind)) return undefined;
  const bent = before.find(({ kind }) => BENDS_THE_WAVE.has(kind) || RIDES.has(kind));
  const message = `${named(bent ?? step)} smears what ${step.title.toLowerCase()} looks for. Move it to the start of the chain.`;
  return bent && { code: 'repair-late', step: step.index, message, fix: moveBefore(step, bent) };
};

/** So far under the quietest words a gate leaves even their ends alone. */
const UNDER_SPEECH_DB = 10;
const LEAST_THRESHOLD_DB = -90;

/**
 * The loudest 3 s less the range lie at or over the level that a tenth of the passages do not reach (EBU Tech 3342): a threshold over
 * that closes on words.
 */
const gateOverSpeech: Rule = ({ kind, heard, settings, index }) => {
  const quietest = differenceDb(heard?.loudnessRangeLu, heard?.maxShortTermLufs);
  if (kind !== 'expander' || quietest === undefined) return undefined;
  const threshold = settings.thresholdDb as number;
  const over = threshold - quietest;
  if (over <= 0) return undefined;
  const to = Math.max(LEAST_THRESHOLD_DB, Math.floor(quietest - UNDER_SPEECH_DB));
  const message = `Its threshold of ${plainFigure(threshold)} dB lies ${figure(over)} dB over the quietest passages, at ${figure(quietest)} dB: their words are turned down too. Set it to ${plainFigure(to)} dB.`;
  const fix = { act: 'set', at: index, settings: { thresholdDb: to } } as const;
  return { code: 'gate-over-speech', step: index, message, figureDb: over, fix };
};

const RULES: readonly Rule[] = [
  noiseReductionLate,
  highPassLate,
  levelAfterLimiter,
  boostAfterLimiter,
  levelSetTwice,
  repairLate,
  gateOverSpeech,
];

/** Peaks that lie at a target's limit before it is encoded or brought to another rate go over it. */
function littleHeadroom(placed: readonly Placed[], target: TargetFile): OrderAdvice[] {
  const limiter = lastOf(placed, new Set(['limiter']));
  const limit = target.limits.find(({ measure, max }) => measure === 'truePeakDbtp' && max !== null)?.max;
  const { container } = target.output;
  if (!limiter || limit === undefined || limit === null || !isLossy(target.output)) return [];
  const ceiling = limiter.settings.ceilingDbtp as number;
  const missing = ceiling - (limit - OVERSHOOT_DB);
  if (missing <= 0 || ceiling > limit) return [];
  const to = ceilingUnder(limit, target.output);
  const message = `A ceiling of ${plainFigure(ceiling)} dBTP leaves ${plainFigure(limit - ceiling)} dB under the target\u2019s limit; ${container === 'mp3' ? 'MP3' : 'Opus'} adds about ${plainFigure(OVERSHOOT_DB)} dB to peaks. The finish will turn it down again: set it to ${plainFigure(to)} dBTP.`;
  const fix = { act: 'set', at: limiter.index, settings: { ceilingDbtp: to } } as const;
  return [{ code: 'little-headroom', step: limiter.index, message, figureDb: missing, fix }];
}

/**
 * Advice on the order of a chain's steps; those that are off, unknown or wrongly set have no part in it.
 * @param heard what goes into each step on an example, by its place, as the ledger has it
 */
export function orderAdvice(
  steps: readonly ChainStep[],
  target?: TargetFile,
  heard: readonly (LedgerFigures | undefined)[] = [],
): OrderAdvice[] {
  const placed = steps.flatMap(({ kind, on, settings }, index): Placed[] => {
    const definition = on ? stepOfKind(kind) : undefined;
    const parsed = definition?.settings.safeParse(settings);
    return definition && parsed?.success
      ? [
          {
            kind,
            index,
            heard: heard[index],
            title: definition.title,
            settings: parsed.data as Record<string, unknown>,
          },
        ]
      : [];
  });
  return [
    ...placed.flatMap((step, i) => RULES.flatMap((rule) => rule(step, placed.slice(0, i)) ?? [])),
    ...(target ? littleHeadroom(placed, target) : []),
  ];
}
