import { mergeAdjustments, type StepAdjustment } from '../chain/adjustments.ts';
import { type ChainStep, stepIds } from '../chain/chain-file.ts';
import { figure } from '../signal/figures.ts';
import { stepOfKind } from '../steps/index.ts';
import type { StepTraits } from '../steps/traits.ts';
import type { LimitResult } from '../target/verdict.ts';
import { MOST_REDUCTION_DB } from './propose-chain.ts';

/** What would bring one item nearer to its target, by how its last attempt came out. */
export interface RemedyStep {
  adjustments: StepAdjustment[];
  /** What is changed, in words. */
  change: string;
}

export interface NoRemedy {
  reason: string;
}

/** The floor is aimed so far under its limit: each dB of noise reduction does not arrive whole. */
const FLOOR_MARGIN_DB = 1.5;
const LEAST_RATIO = 1.5;
const LEAST_THRESHOLD_DB = -50;

interface Place {
  id: string;
  kind: string;
  settings: Record<string, unknown>;
}

type Rule = (
  off: LimitResult,
  steps: readonly Place[],
) => { place: Place; settings: Record<string, number>; change: string } | NoRemedy;

const traitsOf = ({ kind }: Place): StepTraits<Record<string, unknown>> => stepOfKind(kind)?.traits ?? {};
const having = (steps: readonly Place[], trait: keyof StepTraits<unknown>): Place | undefined =>
  steps.find((step) => traitsOf(step)[trait]);
const value = ({ kind, settings }: Place, name: string): number => {
  const parsed = stepOfKind(kind)!.settings.parse(settings) as Record<string, number>;
  return parsed[name];
};

/** More of one setting, up to where it no longer sounds well. */
function more(
  place: Place,
  setting: string,
  by: number,
  { most, least = Number.NEGATIVE_INFINITY, words }: { most: number; least?: number; words: (by: number) => string },
): ReturnType<Rule> | undefined {
  const now = value(place, setting);
  const next = Math.max(least, Math.min(most, now + by));
  if (Math.abs(next - now) < 0.1) return undefined;
  return { place, settings: { [setting]: Math.round(next * 10) / 10 }, change: words(Math.abs(next - now)) };
}

const NO_ROOM = (what: string): NoRemedy => ({ reason: what });

const compressMore = (compressor: Place, by: number): ReturnType<Rule> | undefined =>
  more(compressor, traitsOf(compressor).compresses!.over, -by, {
    least: LEAST_THRESHOLD_DB,
    most: 0,
    words: (db) => `a threshold ${figure(db)} dB lower at the compressor`,
  });

const floorRule: Rule = ({ by }, steps) => {
  const missing = (by ?? 0) + FLOOR_MARGIN_DB;
  const reduction = having(steps, 'reducesNoiseBy');
  const compressor = having(steps, 'compresses');
  const ratio = compressor && traitsOf(compressor).compresses!.ratio;
  return (
    (reduction &&
      more(reduction, traitsOf(reduction).reducesNoiseBy!, missing, {
        most: MOST_REDUCTION_DB,
        words: (db) => `${figure(db)} dB more noise reduction`,
      })) ||
    (compressor && value(compressor, ratio!) > LEAST_RATIO
      ? {
          place: compressor,
          settings: { [ratio!]: LEAST_RATIO },
          change: 'less compression, so that less gain lifts the floor',
        }
      : NO_ROOM(
          reduction
            ? `The noise reduction is at ${MOST_REDUCTION_DB} dB already: more would no longer sound well. A quieter recording helps.`
            : 'The chain has no noise reduction: add one.',
        ))
  );
};

const rangeRule: Rule = ({ by }, steps) => {
  const compressor = having(steps, 'compresses');
  return (
    (compressor && compressMore(compressor, Math.max(3, 2 * (by ?? 0)))) ||
    NO_ROOM(
      compressor || having(steps, 'evensSpeech')
        ? 'The range stays over its limit with all the compression that sounds well.'
        : 'The chain has neither a leveller nor a compressor: add one.',
    )
  );
};

const peaksRule: Rule = ({ by }, steps) => {
  const compressor = having(steps, 'compresses');
  return (
    (compressor && compressMore(compressor, Math.max(4, 2 * (by ?? 0)))) ||
    NO_ROOM(
      compressor
        ? 'The peaks leave no room for the level with all the compression that sounds well.'
        : 'The peak limit leaves no room for the level, and the chain has no compressor: add one.',
    )
  );
};

const RULES: Readonly<Record<string, Rule>> = {
  'noiseFloorDbfs over': floorRule,
  'loudnessRangeLu over': rangeRule,
  'maxShortTermLufs over': rangeRule,
  'maxMomentaryLufs over': rangeRule,
  'integratedLufs under': peaksRule,
  'rmsDbfs under': peaksRule,
  'crestDb over': peaksRule,
  'clippedRuns over': (_, steps) => {
    return having(steps, 'mendsClipping')
      ? NO_ROOM('Flat tops are left after declip: a better recording helps.')
      : NO_ROOM('The chain has no declip: add one.');
  },
  'durationSeconds over': () => NO_ROOM('It is too long, and no setting changes that: divide it.'),
};

/** The next thing to try, or why there is none. Limits that only advise are left alone. */
export function nextRemedy(
  chain: readonly ChainStep[],
  adjustments: readonly StepAdjustment[],
  limits: readonly LimitResult[],
): RemedyStep | NoRemedy {
  const ids = stepIds(chain);
  const own = new Map(adjustments.map((one) => [one.id, one]));
  const steps = chain.flatMap((step, i): Place[] => {
    const change = own.get(ids[i]);
    const isOn = change?.on ?? step.on;
    return isOn && stepOfKind(step.kind)
      ? [{ id: ids[i], kind: step.kind, settings: { ...step.settings, ...change?.settings } }]
      : [];
  });
  const off = limits.filter(({ required, result }) => required && result !== 'within');
  const found = off.map((limit): ReturnType<Rule> => {
    const rule = RULES[`${limit.measure} ${limit.result}`];
    if (limit.value === null) return NO_ROOM('There is nothing to measure.');
    return rule ? rule(limit, steps) : NO_ROOM('No setting of the chain changes this.');
  });
  const helps = found.filter((one) => 'place' in one);
  if (!helps.length)
    return {
      reason: found
        .map((one) => ('reason' in one ? one.reason : ''))
        .filter(Boolean)
        .join(' '),
    };
  return {
    adjustments: mergeAdjustments(
      adjustments,
      helps.map(({ place, settings }) => ({ id: place.id, settings })),
    ),
    change: [...new Set(helps.map(({ change }) => change))].join(', '),
  };
}
