import * as z from 'zod';
import { stepOf } from '../steps/index.ts';
import { type ChainStep, stepIds } from './chain-file.ts';

/** What one recording does otherwise in one step of a chain. What is left out is as the chain has it. */
export const stepAdjustment = z.strictObject({
  /** The step's id in the chain. */
  id: z.string().min(1).max(64),
  on: z.boolean().optional(),
  mix: z.number().min(0).max(1).optional(),
  settings: z.record(z.string(), z.unknown()).default({}),
});

/** `tonos.adjustments/1`. */
export const adjustmentsFile = z.strictObject({
  format: z.literal('tonos.adjustments/1').default('tonos.adjustments/1'),
  /** For all recordings, or for those that are not named below. */
  steps: z.array(stepAdjustment).max(100).default([]),
  /** For single ones, by their path as it is given, or their name. */
  files: z.record(z.string(), z.strictObject({ steps: z.array(stepAdjustment).max(100) })).optional(),
});

/** What a file of adjustments says for one recording. */
export const adjustmentsFor = ({ steps, files = {} }: AdjustmentsFile, path: string): StepAdjustment[] => {
  const name = path.split(/[\\/]/).at(-1)!;
  return (files[path] ?? files[name])?.steps ?? steps;
};

export type StepAdjustment = z.output<typeof stepAdjustment>;
export type AdjustmentsFile = z.output<typeof adjustmentsFile>;

/** An adjustment that finds no place in a chain: it is left out, and said. */
export interface Misfit {
  id: string;
  setting?: string;
  message: string;
}

export interface AdjustedChain {
  steps: ChainStep[];
  misfits: Misfit[];
}

/** A chain as one recording has it. Adjustments of steps or settings that the chain no longer has change nothing. */
export function adjustChain(steps: readonly ChainStep[], adjustments: readonly StepAdjustment[]): AdjustedChain {
  const byId = new Map(adjustments.map((adjustment) => [adjustment.id, adjustment]));
  const ids = stepIds(steps);
  const misfits: Misfit[] = adjustments
    .filter(({ id }) => !ids.includes(id))
    .map(({ id }) => ({ id, message: `The chain has no step "${id}" any more.` }));
  const adjusted = steps.map((step, index): ChainStep => {
    const id = ids[index];
    const adjustment = byId.get(id);
    if (!adjustment) return step;
    const settings = { ...step.settings };
    for (const [setting, value] of Object.entries(adjustment.settings)) {
      const fault = faultOf(step, { ...settings, [setting]: value }, settings);
      if (fault)
        misfits.push({ id, setting, message: `Step "${id}" (${step.kind}) can\u2019t take ${setting}: ${fault}` });
      else settings[setting] = value;
    }
    return { ...step, on: adjustment.on ?? step.on, mix: adjustment.mix ?? step.mix, settings };
  });
  return { steps: adjusted, misfits };
}

/** What a change makes wrong that was right before; a kind that is not known can't be checked. */
function faultOf(
  step: ChainStep,
  settings: Record<string, unknown>,
  before: Record<string, unknown>,
): string | undefined {
  const schema = stepOf(step)?.settings;
  if (!schema?.safeParse(before).success) return undefined;
  const parsed = schema.safeParse(settings);
  return parsed.success ? undefined : parsed.error.issues.map(({ message }) => message).join('; ');
}

/** Two adjustments of one chain as one: the later touches only what it names. */
export function mergeAdjustments(
  earlier: readonly StepAdjustment[],
  later: readonly StepAdjustment[],
): StepAdjustment[] {
  const merged = new Map(earlier.map((adjustment) => [adjustment.id, adjustment]));
  for (const { id, settings, ...rest } of later) {
    const before = merged.get(id);
    merged.set(id, { ...before, ...rest, id, settings: { ...before?.settings, ...settings } });
  }
  return [...merged.values()];
}

/** Recordings that do the same otherwise, together; those that do nothing otherwise are left out. */
export function alikeAdjusted(
  recordings: readonly { id: string; steps: readonly StepAdjustment[] }[],
): { ids: string[]; steps: StepAdjustment[] }[] {
  const groups = new Map<string, { ids: string[]; steps: StepAdjustment[] }>();
  for (const { id, steps } of recordings) {
    if (!steps.length) continue;
    const key = JSON.stringify(steps);
    const group = groups.get(key) ?? { ids: [], steps: [...steps] };
    group.ids.push(id);
    groups.set(key, group);
  }
  return [...groups.values()];
}
