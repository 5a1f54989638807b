import type { Title, TitleStanding } from '@tonos/contract';

export type TitleSorting = 'name' | 'length' | 'waiting' | 'last-run';

const collator = new Intl.Collator('en', { numeric: true, sensitivity: 'base' });

/** What is still to be done of a title: all that was not delivered as it would be today. */
const waiting = (standing: TitleStanding | undefined): number => {
  if (!standing) return 0;
  const { none, failed, ...counts } = standing.counts;
  return none + failed + counts['off-target'] + counts['out-of-date'];
};

const ORDERS: Readonly<Record<TitleSorting, (a: Title, b: Title, of: ReadonlyMap<string, TitleStanding>) => number>> = {
  name: (a, b) => collator.compare(a.name, b.name),
  length: (a, b) => b.totalSeconds - a.totalSeconds,
  waiting: (a, b, of) => waiting(of.get(b.id)) - waiting(of.get(a.id)),
  'last-run': (a, b, of) => (of.get(b.id)?.lastRunAt ?? '').localeCompare(of.get(a.id)?.lastRunAt ?? ''),
};

/** Those whose name, people or series have every word that was typed; archived ones only where they are wanted. */
export function shownTitles(
  titles: readonly Title[],
  standings: readonly TitleStanding[],
  { typed, archived, sorting }: { typed: string; archived: boolean; sorting: TitleSorting },
): Title[] {
  const of = new Map(standings.map((one) => [one.titleId, one]));
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const found = titles.filter((title) => {
    const { authors, voices, series, publisher } = title.details;
    const text = [title.name, title.kind, authors, voices, series, publisher].join(' ').toLowerCase();
    return title.archived === archived && words.every((word) => text.includes(word));
  });
  return found.sort((a, b) => ORDERS[sorting](a, b, of) || collator.compare(a.name, b.name));
}
