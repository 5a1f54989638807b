import type { Recording } from '@tonos/contract';
import fc from 'fast-check';
import { sorted } from '../../testing/sorted.ts';
import { recordingColumns } from './recording-columns.ts';
import { filterRecordings, inOrder, SORT_VALUES, sharedLabel } from './sort-recordings.ts';

const recording = (position: number, name: string, integratedLufs: number | null, more: Partial<Recording> = {}) =>
  ({
    id: name,
    position,
    name,
    status: 'ready',
    speaker: '',
    microphone: '',
    room: '',
    measurement: { integratedLufs, container: 'wav', codec: 'pcm', warnings: [], complaints: [] },
    ...more,
  }) as unknown as Recording;
const LIST = [
  recording(1, 'chapter 10.wav', -20),
  recording(2, 'chapter 9.wav', -30),
  recording(3, 'Chapter 1.wav', null),
  recording(4, 'coda.wav', -20),
];
const COLUMNS = recordingColumns(undefined);
const sortedBy = (list: readonly Recording[], id: string, desc: boolean) =>
  sorted(
    list.map((one, i) => ({ ...one, id: `${i} ${one.id}` })),
    COLUMNS,
    { id, desc },
  );
const order = (list: readonly Recording[]) => list.map(({ position }) => position);

it('sorts names as people count', () => {
  expect(order(sortedBy(LIST, 'name', false))).toEqual([3, 2, 1, 4]);
});

it('sorts figures either way, equal ones by their place, missing ones last', () => {
  expect(order(sortedBy(LIST, 'loudness', false))).toEqual([2, 1, 4, 3]);
  expect(order(sortedBy(LIST, 'loudness', true))).toEqual([1, 4, 2, 3]);
});

it('finds by words of name, label, warning and kind of file', () => {
  const list = [
    recording(1, 'a.wav', -20, { speaker: 'Ada' }),
    recording(2, 'b.wav', -20, {
      measurement: {
        container: 'flac',
        codec: 'flac',
        complaints: [],
        warnings: [{ code: 'too-quiet', message: '' }],
      } as unknown as Recording['measurement'],
    }),
  ];
  expect(order(filterRecordings(list, 'ada'))).toEqual([1]);
  expect(order(filterRecordings(list, 'FLAC too qui'))).toEqual([2]);
  expect(order(filterRecordings(list, ''))).toEqual([1, 2]);
});

it('tells what a selection shares of a label, and that it varies', () => {
  const list = [
    recording(1, 'a', 0, { speaker: 'Ada', room: 'booth' }),
    recording(2, 'b', 0, { speaker: 'Ada', room: 'hall' }),
  ];
  expect(sharedLabel(list, 'speaker')).toBe('Ada');
  expect(sharedLabel(list, 'room')).toBeUndefined();
});

it('loses nobody by any column, puts what has no figure last either way, and sorts what is sorted no further', () => {
  const figure = fc.option(fc.double({ min: -90, max: 0, noNaN: true }));
  const any = fc.record({ position: fc.nat(500), name: fc.string({ maxLength: 8 }), figure, unreadable: fc.boolean() });
  fc.assert(
    fc.property(
      fc.array(any, { maxLength: 20 }),
      fc.constantFrom(...Object.keys(SORT_VALUES)),
      fc.boolean(),
      (list, key, descending) => {
        const recordings = list.map(({ position, name, figure: value, unreadable }) =>
          recording(position, name, value, {
            status: unreadable ? 'unreadable' : 'ready',
            measurement: unreadable
              ? null
              : ({
                  durationSeconds: 10 - (value ?? 0),
                  integratedLufs: value,
                  truePeakDbtp: value,
                  noiseFloorDbfs: value,
                  rmsDbfs: value,
                  complaints: [],
                  warnings: value === null ? [] : [{ code: 'too-quiet', message: '' }],
                } as unknown as Recording['measurement']),
          }),
        );
        const names = (some: readonly Recording[]) => some.map(({ name, position }) => `${position} ${name}`);
        const once = sortedBy(recordings, key, descending);
        expect(names(once).sort()).toEqual(names(recordings).sort());
        expect(names(sortedBy(once, key, descending))).toEqual(names(once));
        if (key === 'loudness') {
          const has = once.map(({ measurement }) => measurement?.integratedLufs != null);
          expect(has).toEqual([...has].sort((a, b) => Number(b) - Number(a)));
        }
      },
    ),
  );
});

it('orders by names as people count and by numbers, and leaves equal ones as they were', () => {
  expect(inOrder(['take 10', 'Take 2', 'take 1'], (name) => name)).toEqual(['take 1', 'Take 2', 'take 10']);
  const places = [
    { track: 2, id: 'a' },
    { track: 1, id: 'b' },
    { track: 2, id: 'c' },
    { track: Number.POSITIVE_INFINITY, id: 'd' },
    { track: Number.POSITIVE_INFINITY, id: 'e' },
  ];
  expect(inOrder(places, ({ track }) => track).map(({ id }) => id)).toEqual(['b', 'a', 'c', 'd', 'e']);
});
