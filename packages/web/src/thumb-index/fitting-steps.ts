import { type ChainStep, moduleOf, stepOf } from '@tonos/core';

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
  for (const wanted of steps) {
    const { kind, settings } = wanted;
    const isSame = (step: ChainStep) => step.kind === kind && moduleOf(step)?.sha256 === moduleOf(wanted)?.sha256;
    const at = free.findIndex((step) => isSame(step) && step.id !== undefined);
    if (at < 0) fitting.missing.push(stepOf(wanted)?.title ?? kind);
    else fitting.adjustments.push({ id: free.splice(at, 1)[0].id!, settings });
  }
  return fitting;
}
