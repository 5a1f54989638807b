import type { EditedStep } from './chain-slice.ts';

/** What is held: settings change without sounding or being measured until it is let go. */
export interface Held {
  /** Single steps as they are heard, by their ids. */
  steps: Record<string, EditedStep>;
  /** The whole chain as it is heard. */
  chain: EditedStep[] | null;
}

export const NOTHING_HELD: Held = { steps: {}, chain: null };

/** The steps that are heard and measured: those that are held as they were, in the order that stands. */
export function soundingSteps(steps: readonly EditedStep[], { steps: held, chain }: Held): readonly EditedStep[] {
  if (chain) return chain;
  return steps.some(({ id }) => held[id]) ? steps.map((step) => held[step.id] ?? step) : steps;
}

/** Holds a step as it stands, or lets it go. */
export function withStep(held: Held, step: EditedStep): Held {
  const { [step.id]: before, ...rest } = held.steps;
  return { ...held, steps: before ? rest : { ...held.steps, [step.id]: step } };
}
