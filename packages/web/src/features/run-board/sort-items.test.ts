import type { RunItem } from '@tonos/contract';
import { outlierNotes } from './outlier-notes.ts';
import { badness, shownItems } from './sort-items.ts';

const limit = (by: number, min: number | null = -17, max: number | null = -15) =>
  ({ measure: 'integratedLufs', min, max, value: 0, result: by ? 'over' : 'within', by, required: true }) as const;
const item = (id: string, position: number, status: RunItem['status'], limits: RunItem['limits'] = []) =>
  ({ id, position, status, limits, after: null }) as unknown as RunItem;
const ITEMS = [
  item('a', 1, 'within', [limit(0)]),
  item('b', 2, 'off-target', [limit(1)]),
  item('c', 3, 'failed'),
  item('d', 4, 'off-target', [limit(3)]),
  item('e', 5, 'queued'),
];
const ids = (items: RunItem[]) => items.map(({ id }) => id).join('');
const worst = (items: RunItem[]) => ids(items.toSorted((a, b) => badness(b) - badness(a) || a.position - b.position));

it('puts failed ones first, then what misses its limits most', () => {
  expect(worst(shownItems(ITEMS, 'all'))).toBe('cdbae');
  expect(ids(shownItems(ITEMS, 'all'))).toBe('abcde');
});

it('shows exceptions, what is within, or what is still open', () => {
  expect(ids(shownItems(ITEMS, 'exceptions'))).toBe('bcd');
  expect(ids(shownItems(ITEMS, 'within'))).toBe('a');
  expect(worst(shownItems(ITEMS, 'open'))).toBe('e');
});

it('names the item that departs from the rest, and in what', () => {
  const floors = [-70, -71, -70.5, -69.8, -58];
  const items = floors.map((noiseFloorDbfs, i) => ({
    ...item(String(i), i, 'within'),
    after: { noiseFloorDbfs },
  })) as RunItem[];
  expect([...outlierNotes(items)]).toEqual([['4', ['Noise floor 12.0 dB over the median of the rest']]]);
});
