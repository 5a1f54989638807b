import { type ChainStep, stepOfKind } from '@tonos/core';

interface Fitting {
  /** Settings for steps of the chain, by their id. */
  adjustments: { id: string; settings: Record<string, unknown> }[];
  /** Titles of kinds that the chain does not have. */
  missing: string[];
}

/** What steps say of a chain's own steps: each of them is for the first of its kind that none before it took. */
export function fittingSteps(chain: readonly ChainStep[], steps: readonly ChainStep[]): Fitting {
  const free = [...chain];
  const fitting: Fitting = { adjustments: [], missing: [] };
  for (const { kind, settings } of steps) {
    const at = free.findIndex((step) => step.kind === kind && step.id !== undefined);
    if (at < 0) fitting.missing.push(stepOfKind(kind)?.title ?? kind);
    else fitting.adjustments.push({ id: free.splice(at, 1)[0].id!, settings });
  }
  return fitting;
}
