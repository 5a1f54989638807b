import type { RunSummary } from '@tonos/contract';

/** Which runs a list shows. `to-settle`: something of it is off target and not accepted, or failed. */
export type RunsShown = 'all' | 'under-way' | 'to-settle' | 'settled';

export const openCount = ({ counts }: Pick<RunSummary, 'counts'>): number => counts.queued + counts.working;

/** How many of its items wait for somebody. */
export const unsettledCount = ({ counts, accepted }: Pick<RunSummary, 'counts' | 'accepted'>): number =>
  counts['off-target'] - accepted + counts.failed;

function isShown(run: RunSummary, shown: RunsShown): boolean {
  if (shown === 'all') return true;
  if (shown === 'under-way') return openCount(run) > 0;
  return openCount(run) === 0 && unsettledCount(run) > 0 === (shown === 'to-settle');
}

/** Those with every typed word in the name of their title, chain or target. */
export function filterRuns(runs: readonly RunSummary[], shown: RunsShown, typed: string): RunSummary[] {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  return runs.filter((run) => {
    const names = `${run.titleName} ${run.chainName} ${run.targetName}`.toLowerCase();
    return isShown(run, shown) && words.every((word) => names.includes(word));
  });
}
