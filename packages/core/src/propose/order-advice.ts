import type { ChainStep } from '../chain/chain-file.ts';
import type { LedgerFigures } from '../chain/ledger.ts';
import { figure, plainFigure } from '../signal/figures.ts';
import { stepOf } from '../steps/index.ts';
import type { StepTraits } from '../steps/traits.ts';
import { isLossy, type TargetFile } from '../target/target-file.ts';
import { ceilingUnder, OVERSHOOT_DB } from './limiter-ceiling.ts';

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
    | 'fade-early'
    | 'room-after-limiter'
    | 'pauses-early'
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

type Settings = Record<string, unknown>;

interface Placed {
  traits: StepTraits<Settings>;
  /** What goes into it on the example, where that has been measured. */
  heard: LedgerFigures | undefined;
  index: number;
  title: string;
  settings: Settings;
}

/** Every rule looks at one step and those that run before it. */
type Rule = (step: Placed, before: readonly Placed[]) => OrderAdvice | undefined;

type Trait = keyof StepTraits<Settings>;

const lastOf = (steps: readonly Placed[], trait: Trait) => steps.findLast(({ traits }) => traits[trait]);
const firstOf = (steps: readonly Placed[], trait: Trait) => steps.find(({ traits }) => traits[trait]);
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
  if (!step.traits.reducesNoiseBy) return undefined;
  const [first, rides] = [firstOf(before, 'ridesLevel'), lastOf(before, 'ridesLevel')];
  if (!rides) return undefined;
  const raisedDb = differenceDb(first?.heard?.noiseFloorDbfs, step.heard?.noiseFloorDbfs);
  const raised =
    raisedDb !== undefined && raisedDb > LEAST_RAISED_DB ? ` The floor is ${figure(raisedDb)} dB higher here.` : '';
  const message = `${named(rides)} changes the level of the room from moment to moment; noise that moves is found and taken less well.${raised} Move ${step.title.toLowerCase()} before it.`;
  return {
    code: 'noise-reduction-late',
    step: step.index,
    message,
    ...(raised ? { figureDb: raisedDb } : {}),
    fix: moveBefore(step, first),
  };
};

const highPassLate: Rule = (step, before) => {
  const { cutsBelow } = step.traits;
  const driven = lastOf(before, 'ridesLevel');
  if (!cutsBelow || !driven) return undefined;
  const message = `Rumble below ${plainFigure(step.settings[cutsBelow] as number)} Hz still drives ${named(driven)}, and turns the voice down with it. Move the ${step.title.toLowerCase()} before it.`;
  return { code: 'high-pass-late', step: step.index, message, fix: moveBefore(step, firstOf(before, 'ridesLevel')) };
};

/** The ceiling of a step that holds peaks, dBTP. */
const ceilingOf = ({ traits, settings }: Placed): number => settings[traits.holdsPeaksUnder!] as number;

const levelAfterLimiter: Rule = (step, before) => {
  const limiter = lastOf(before, 'holdsPeaksUnder');
  const by = step.traits.raisesDb?.(step.settings) ?? 0;
  if (!limiter || by <= 0) return undefined;
  const ceiling = ceilingOf(limiter);
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

const boostAfterLimiter: Rule = (step, before) => {
  const limiter = lastOf(before, 'holdsPeaksUnder');
  const by = step.traits.boostsDb?.(step.settings) ?? 0;
  if (!limiter || by <= 0) return undefined;
  const message = `A boost of ${plainFigure(by)} dB after ${named(limiter)} lifts peaks over its ceiling. Move it before that.`;
  return { code: 'boost-after-limiter', step: step.index, message, figureDb: by, fix: moveBefore(step, limiter) };
};

const levelSetTwice: Rule = (step, before) => {
  const earlier = step.traits.setsLevel && lastOf(before, 'setsLevel');
  if (!earlier || before.some(({ index, traits }) => index > earlier.index && traits.ridesLevel)) return undefined;
  const message = `${step.title} sets the level that ${named(earlier)} has set already; only the last one counts. Take one of them out.`;
  return { code: 'level-set-twice', step: step.index, message, fix: { act: 'remove', at: earlier.index } };
};

const repairLate: Rule = (step, before) => {
  const bent = before.find(({ traits }) => traits.bendsWave || traits.ridesLevel);
  if (!step.traits.needsWaveAsRecorded || !bent) return undefined;
  const message = `${named(bent)} smears what ${step.title.toLowerCase()} looks for. Move it to the start of the chain.`;
  return { code: 'repair-late', step: step.index, message, fix: moveBefore(step, bent) };
};

/** So far under the quietest words a gate leaves even their ends alone. */
const UNDER_SPEECH_DB = 10;
const LEAST_THRESHOLD_DB = -90;

/**
 * The loudest 3 s less the range lie at or over the level that a tenth of the passages do not reach (EBU Tech 3342): a threshold over
 * that closes on words.
 */
const gateOverSpeech: Rule = ({ traits: { closesUnder }, heard, settings, index }) => {
  const quietest = differenceDb(heard?.loudnessRangeLu, heard?.maxShortTermLufs);
  if (!closesUnder || quietest === undefined) return undefined;
  const threshold = settings[closesUnder] as number;
  const over = threshold - quietest;
  if (over <= 0) return undefined;
  const to = Math.max(LEAST_THRESHOLD_DB, Math.floor(quietest - UNDER_SPEECH_DB));
  const message = `Its threshold of ${plainFigure(threshold)} dB lies ${figure(over)} dB over the quietest passages, at ${figure(quietest)} dB: their words are turned down too. Set it to ${plainFigure(to)} dB.`;
  const fix = { act: 'set', at: index, settings: { [closesUnder]: to } } as const;
  return { code: 'gate-over-speech', step: index, message, figureDb: over, fix };
};

/** What a step that came too early is moved behind. */
const moveBehind = (early: Placed, step: Placed): AdvisedFix => ({ act: 'move', from: early.index, to: step.index });

const fadeEarly: Rule = (step, before) => {
  const fade = lastOf(before, 'fadesEnds');
  const { setsLevel, ridesLevel, evensSpeech } = step.traits;
  if (!fade || !(setsLevel || ridesLevel || evensSpeech)) return undefined;
  const message = `${step.title} works against ${named(fade)}: it hears the ends go down, and raises them or the whole. Move the fade behind it.`;
  return { code: 'fade-early', step: fade.index, message, fix: moveBehind(fade, step) };
};

const roomAfterLimiter: Rule = (step, before) => {
  const limiter = lastOf(before, 'holdsPeaksUnder');
  if (!limiter || !step.traits.addsRoom) return undefined;
  const message = `The room of ${step.title.toLowerCase()} rises over the ceiling of ${plainFigure(ceilingOf(limiter))} dBTP. Move it before ${named(limiter)}.`;
  return { code: 'room-after-limiter', step: step.index, message, fix: moveBefore(step, limiter) };
};

/** Room tone is learned from pauses of 0.4 s, apart from the words beside them. */
const LEARNED_FROM_SECONDS = 0.8;

const pausesEarly: Rule = (step, before) => {
  const pauses = lastOf(before, 'longestPause');
  if (!pauses || !step.traits.usesRoomTone?.(step.settings)) return undefined;
  const longest = pauses.settings[pauses.traits.longestPause!] as number;
  if (longest >= LEARNED_FROM_SECONDS) return undefined;
  const message = `${named(pauses)} leaves pauses of ${plainFigure(longest)} s: too little for ${step.title.toLowerCase()} to learn the room from. Move it behind that.`;
  return { code: 'pauses-early', step: pauses.index, message, fix: moveBehind(pauses, step) };
};

const RULES: readonly Rule[] = [
  noiseReductionLate,
  highPassLate,
  levelAfterLimiter,
  boostAfterLimiter,
  levelSetTwice,
  repairLate,
  gateOverSpeech,
  fadeEarly,
  roomAfterLimiter,
  pausesEarly,
];

/** Peaks that lie at a target's limit before it is encoded or brought to another rate go over it. */
function littleHeadroom(placed: readonly Placed[], target: TargetFile): OrderAdvice[] {
  const limiter = lastOf(placed, 'holdsPeaksUnder');
  const limit = target.limits.find(({ measure, max }) => measure === 'truePeakDbtp' && max !== null)?.max;
  const { container } = target.output;
  if (!limiter || limit === undefined || limit === null || !isLossy(target.output)) return [];
  const ceiling = ceilingOf(limiter);
  const missing = ceiling - (limit - OVERSHOOT_DB);
  if (missing <= 0 || ceiling > limit) return [];
  const to = ceilingUnder(limit, target.output);
  const message = `A ceiling of ${plainFigure(ceiling)} dBTP leaves ${plainFigure(limit - ceiling)} dB under the target\u2019s limit; ${container === 'mp3' ? 'MP3' : 'Opus'} adds about ${plainFigure(OVERSHOOT_DB)} dB to peaks. The finish will turn it down again: set it to ${plainFigure(to)} dBTP.`;
  const fix = { act: 'set', at: limiter.index, settings: { [limiter.traits.holdsPeaksUnder!]: to } } as const;
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
    const definition = on ? stepOf({ kind, settings }) : undefined;
    const parsed = definition?.settings.safeParse(settings);
    return definition && parsed?.success
      ? [
          {
            traits: definition.traits ?? {},
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
