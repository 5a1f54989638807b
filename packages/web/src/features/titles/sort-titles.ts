import type { Title, TitleStanding } from '@tonos/contract';
import { compared } from '../../ui/table/use-ledger-table.ts';

/** What is still to be done of a title: all that was not delivered as it would be today. */
export const waiting = (standing: TitleStanding | undefined): number => {
  if (!standing) return 0;
  const { none, failed, ...counts } = standing.counts;
  return none + failed + counts['off-target'] + counts['out-of-date'];
};

/** Those whose name, people or series have every word that was typed, by name; archived ones only where they are wanted. */
export function shownTitles(
  titles: readonly Title[],
  { typed, archived }: { typed: string; archived: boolean },
): Title[] {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const found = titles.filter((title) => {
    const { authors, voices, series, publisher } = title.details;
    const text = [title.name, title.kind, authors, voices, series, publisher].join(' ').toLowerCase();
    return title.archived === archived && words.every((word) => text.includes(word));
  });
  return found.sort((a, b) => compared(a.name, b.name));
}
