import { nanoid } from '@reduxjs/toolkit';
import { type ChainFile, type ChainStep, stepIds } from '@tonos/core';

/** A step that is edited has an id for sure. */
export type NamedStep = ChainStep & { id: string };

export const namedSteps = (steps: readonly ChainStep[]): NamedStep[] => {
  const ids = stepIds(steps);
  return steps.map((step, i) => ({ ...step, id: ids[i] }));
};

export const changedStep = (steps: readonly NamedStep[], id: string, part: Partial<ChainStep>): NamedStep[] =>
  steps.map((step) => (step.id === id ? { ...step, ...part, id } : step));

export const withoutStep = (steps: readonly NamedStep[], id: string): NamedStep[] =>
  steps.filter((step) => step.id !== id);

/** One step by so many places; at an end it stays. */
export function movedStep(steps: readonly NamedStep[], at: number, by: number): NamedStep[] {
  const to = Math.min(steps.length - 1, Math.max(0, at + by));
  const moved = [...steps];
  moved.splice(to, 0, ...moved.splice(at, 1));
  return moved;
}

export const withNewStep = (
  steps: readonly NamedStep[],
  { kind, settings }: Pick<ChainStep, 'kind' | 'settings'>,
): NamedStep[] => [...steps, { id: nanoid(8), kind, on: true, mix: 1, settings }];

/** A chain's own steps where it is used, under the name that it has: from then on it follows the shared one no more. */
export const ownChain = (name: string, steps: readonly NamedStep[]): ChainFile => ({
  format: 'tonos.chain/1',
  name,
  tags: [],
  notes: '',
  steps: [...steps],
});
