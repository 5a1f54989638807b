import type { RunSummary } from '@tonos/contract';
import { filterRuns, type RunsShown } from './filter-runs.ts';

const NONE = { queued: 0, working: 0, within: 1, 'off-target': 0, failed: 0, cancelled: 0 };
const run = (id: string, counts: Partial<RunSummary['counts']>, accepted = 0): RunSummary =>
  ({
    id,
    titleName: `Title no${id}`,
    chainName: 'Quiet rooms',
    targetName: 'Podcast',
    counts: { ...NONE, ...counts },
    accepted,
  }) as RunSummary;

const RUNS = [
  run('a', {}),
  run('b', { working: 1, failed: 1 }),
  run('c', { 'off-target': 2 }, 1),
  run('d', { 'off-target': 2 }, 2),
  run('e', { failed: 1 }),
];
const idsOf = (shown: RunsShown, typed = '') => filterRuns(RUNS, shown, typed).map(({ id }) => id);

it('shows what is under way, what waits for somebody, and what is settled', () => {
  expect(idsOf('all')).toEqual(['a', 'b', 'c', 'd', 'e']);
  expect(idsOf('under-way')).toEqual(['b']);
  // one of two is accepted: the other still waits
  expect(idsOf('to-settle')).toEqual(['c', 'e']);
  expect(idsOf('settled')).toEqual(['a', 'd']);
});

it('finds by every typed word, in any of its names', () => {
  expect(idsOf('all', 'quiet  PODCAST')).toHaveLength(5);
  expect(idsOf('all', 'podcast noc')).toEqual(['c']);
  expect(idsOf('settled', 'title noc')).toEqual([]);
});
