import type { TrashEntry } from '@tonos/contract';
import { containsText, goesText } from './trash-text.ts';

const entry = (kind: TrashEntry['kind'], name: string, contains: Partial<TrashEntry['contains']>, bytes = 0) =>
  ({ kind, id: name, name, bytes, contains: { recordings: 0, runs: 0, deliveries: 0, ...contains } }) as TrashEntry;

it('names what goes with it', () => {
  expect(containsText(entry('title', 'a', { recordings: 12, runs: 1, deliveries: 24 }))).toBe(
    '12 recordings, 1 run, 24 delivered files',
  );
  expect(containsText(entry('recording', 'a', { recordings: 1 }))).toBe('');
  expect(containsText(entry('recording', 'a', { recordings: 3 }))).toBe('3 takes');
  expect(containsText(entry('run', 'a', { runs: 1, deliveries: 1 }))).toBe('1 delivered file');
});

it('says before it is done what will be gone, and what stays', () => {
  expect(goesText([entry('chain', 'Van', {})])).toBe(
    '“Van” will be gone from the disk, and nothing brings back what is gone.',
  );
  const text = goesText([
    entry('title', 'Weir', { recordings: 2, deliveries: 1 }, 5e6),
    entry('recording', 'b', { recordings: 1 }, 1e6),
  ]);
  expect(text).toMatch(/^“Weir” and 1 more, with 3 recordings and 1 delivered file, will be gone/);
  expect(text).toContain('That gives 6.0\u2009MB.');
  expect(text).toContain('stays in its runs');
});
