import type { Title, TitleStanding } from '@tonos/contract';
import { shownTitles } from './sort-titles.ts';

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
const ids = (wanted: Partial<Parameters<typeof shownTitles>[2]>) =>
  shownTitles(titles, standings, { typed: '', archived: false, sorting: 'name', ...wanted }).map(({ id }) => id);

it.each([
  ['name', ['c', 'b', 'a']],
  ['length', ['b', 'a', 'c']],
  ['waiting', ['b', 'c', 'a']],
  ['last-run', ['b', 'a', 'c']],
] as const)('sorts by %s', (sorting, order) => expect(ids({ sorting })).toEqual(order));

it('finds by every word, people included; what is archived is apart', () => {
  expect(ids({ typed: 'weir 9' })).toEqual(['b']);
  expect(ids({ typed: 'marlow' })).toEqual(['c']);
  expect(ids({ archived: true })).toEqual(['d']);
});
