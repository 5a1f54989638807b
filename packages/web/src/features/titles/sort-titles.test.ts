import type { Title, TitleStanding } from '@tonos/contract';
import { sorted } from '../../testing/sorted.ts';
import { shownTitles } from './sort-titles.ts';
import { titleColumns } from './title-columns.tsx';

const details = { authors: '', voices: '', series: '', publisher: '' };
const title = (id: string, name: string, totalSeconds: number, more: object = {}) =>
  ({ id, name, kind: 'podcast', totalSeconds, archived: false, details, ...more }) as unknown as Title;
const counts = { none: 0, 'under-way': 0, within: 0, 'off-target': 0, accepted: 0, failed: 0, 'out-of-date': 0 };
const standing = (titleId: string, lastRunAt: string | null, more: object) =>
  ({ titleId, counts: { ...counts, ...more }, lastRunId: null, lastRunAt }) as TitleStanding;

const titles = [
  title('a', 'Weir 10', 30),
  title('b', 'Weir 9', 50),
  title('c', 'Quay', 10, { details: { ...details, authors: 'Ines Marlow' } }),
  title('d', 'Old', 90, { archived: true }),
];
const standings = [
  standing('a', '2026-01-02', { within: 9 }),
  standing('b', '2026-03-01', { 'off-target': 1, 'out-of-date': 1 }),
  standing('c', null, { none: 1 }),
];
const ids = (wanted: Partial<Parameters<typeof shownTitles>[1]>) =>
  shownTitles(titles, { typed: '', archived: false, ...wanted }).map(({ id }) => id);
const columns = titleColumns(new Map(standings.map((one) => [one.titleId, one])));

it.each([
  ['name', false, ['c', 'b', 'a']],
  ['length', true, ['b', 'a', 'c']],
  ['delivered', true, ['b', 'c', 'a']],
  ['last-run', true, ['b', 'a', 'c']],
  // one that was never run comes last either way
  ['last-run', false, ['a', 'b', 'c']],
] as const)('sorts by %s, descending: %s', (id, desc, order) => {
  const shown = shownTitles(titles, { typed: '', archived: false });
  expect(sorted(shown, columns, { id, desc }).map((one) => one.id)).toEqual(order);
});

it('finds by every word, people included; what is archived is apart', () => {
  expect(ids({ typed: 'weir 9' })).toEqual(['b']);
  expect(ids({ typed: 'marlow' })).toEqual(['c']);
  expect(ids({ archived: true })).toEqual(['d']);
});
