import type { RunItem } from '@tonos/contract';

export type ItemFilter = 'all' | 'within' | 'exceptions' | 'open';

/** How far an item is off: failed ones first, then by what it misses most against the width of its limits. */
export function badness({ status, limits }: RunItem): number {
  if (status === 'failed') return Number.POSITIVE_INFINITY;
  const missed = limits.filter(({ required, result }) => required && result !== 'within');
  return missed.reduce((most, { by, min, max }) => {
    const width = min !== null && max !== null ? max - min : 6;
    return Math.max(most, by === null ? 1e6 : by / Math.max(0.1, width));
  }, 0);
}

const SHOWN: Readonly<Record<ItemFilter, (item: RunItem) => boolean>> = {
  all: () => true,
  within: ({ status }) => status === 'within',
  exceptions: ({ status }) => status === 'off-target' || status === 'failed',
  open: ({ status }) => status === 'queued' || status === 'working',
};

/** Items as the board shows them. */
export const shownItems = (items: readonly RunItem[], filter: ItemFilter): RunItem[] => items.filter(SHOWN[filter]);
