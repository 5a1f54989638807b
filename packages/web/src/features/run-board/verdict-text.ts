import type { RunItem } from '@tonos/contract';
import { differenceUnit, figure } from '@tonos/core';
import { measureOf } from '../../ui/limit-text.ts';

/** What to say of an item in a few words: the limit that is missed by most, or its state. */
export function verdictText(item: RunItem): string {
  if (item.status !== 'off-target') return item.status === 'queued' ? 'waiting' : item.status;
  const missed = item.limits.filter(({ required, result }) => required && result !== 'within');
  const [worst] = missed.toSorted((a, b) => (b.by ?? Number.POSITIVE_INFINITY) - (a.by ?? Number.POSITIVE_INFINITY));
  if (!worst) return 'off target: silence';
  const { title, unit, decimals } = measureOf(worst.measure);
  // The space before the unit does not break, so that a figure never stands apart from its unit.
  const by = worst.by === null ? '' : ` by ${figure(worst.by, Math.max(1, decimals))}\u00a0${differenceUnit(unit)}`;
  return `${item.accepted ? 'accepted: ' : ''}${title} ${worst.result}${by}${missed.length > 1 ? `, ${missed.length - 1} more` : ''}`;
}
