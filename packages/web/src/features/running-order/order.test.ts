import type { Recording } from '@tonos/contract';
import { type OrderFile, placesOf, readOrder, shippedPatterns } from '@tonos/core';
import {
  movedPart,
  shiftedBegin,
  withNewGroup,
  withNewPart,
  withoutGroup,
  withoutPart,
  withPart,
} from './edit-order.ts';
import { fillsOf, linkedFillings, readFillsCsv } from './fills.ts';
import { layOutOrder, secondsOf, withUnmoved } from './lay-out-order.ts';
import { beginsWords, distanceWords, lastsWords } from './order-words.ts';
import { lanesOf, soundingSpans, wavePath } from './plate-path.ts';

const order = (parts: object[], rest: object = {}): OrderFile =>
  readOrder({
    format: 'tonos.order/1',
    name: 'An evening',
    groups: [{ id: 'voices', name: 'Voices' }, { id: 'music' }],
    parts: parts.map((part) => ({ group: 'voices', source: { place: 'body' }, ...part })),
    ...rest,
  });
const recording = (id: string, seconds: number, marks: [string, number][] = [], more: object = {}) =>
  ({
    id,
    name: `${id}.wav`,
    givenName: '',
    kind: 'voice',
    cuts: [],
    marks: marks.map(([name, startSeconds]) => ({ id: name, name, startSeconds, endSeconds: startSeconds })),
    measurement: { durationSeconds: seconds, channels: 1 },
    ...more,
  }) as unknown as Recording;
const known = (...recordings: Recording[]) => new Map(recordings.map((one) => [one.id, one]));

describe('changing an order', () => {
  const three = order([
    { id: 'a' },
    { id: 'b', begins: { after: 'a', gapSeconds: 1 } },
    { id: 'c', begins: { after: 'b', gapSeconds: 2 } },
  ]);

  it('a new part begins after the one that was chosen, in its group', () => {
    const { order: made, id } = withNewPart(three, 'b');
    expect(made.parts.map((part) => part.id)).toEqual(['a', 'b', id, 'c']);
    expect(made.parts[2]).toMatchObject({ group: 'voices', begins: { after: 'b', gapSeconds: 0 } });
    const first = withNewPart(order([]), null);
    expect(first.order.parts[0].begins).toEqual({ after: null, gapSeconds: 0 });
  });

  it('what hung on a part that is taken out begins as that did, and nothing is left hanging', () => {
    const without = withoutPart(three, 'b');
    expect(without.parts.map(({ id, begins }) => [id, begins])).toEqual([
      ['a', { after: null, gapSeconds: 0 }],
      ['c', { after: 'a', gapSeconds: 1 }],
    ]);
    const bed = order([{ id: 'a' }, { id: 'bed', lasts: { untilEndOf: 'a' } }]);
    expect(withoutPart(bed, 'a').parts[0].lasts).toBeNull();
    // a mark that is called as a part is, is no part
    const spot = { id: 'spot', begins: { into: 'a', mark: 'break' } };
    const named = order([{ id: 'a' }, spot, { id: 'break', begins: { after: 'spot' } }]);
    expect(withoutPart(named, 'break').parts[1].begins).toEqual(spot.begins);
    expect(withoutPart(named, 'spot').parts[1].begins).toEqual({ with: 'a', offsetSeconds: 0 });
    expect(layOutOrder(without, known(), {}).faults).toEqual([]);
  });

  it('rows move within the table, groups come and go with what gave way', () => {
    expect(movedPart(three, 'c', -1).parts.map(({ id }) => id)).toEqual(['a', 'c', 'b']);
    expect(movedPart(three, 'a', -1)).toBe(three);
    expect(withNewGroup(three).groups).toHaveLength(3);
    const under = {
      ...three,
      under: [{ group: 'voices', of: ['music'], byDb: 12, leadSeconds: 0.3, holdSeconds: 1, releaseSeconds: 1 }],
    };
    expect(withoutGroup(under, 'music')).toMatchObject({ groups: [{ id: 'voices' }], under: [] });
  });

  it('a plate that is dragged changes the figure that its row says, in hundredths, and never before the programme', () => {
    const begin = (begins: object, by: number) => shiftedBegin(order([{ id: 'a' }, { id: 'b', begins }]).parts[1], by);
    expect(begin({ after: 'a', gapSeconds: -1.5 }, 0.256)).toEqual({ after: 'a', gapSeconds: -1.24 });
    expect(begin({ with: 'a', offsetSeconds: 0.5 }, -1)).toEqual({ with: 'a', offsetSeconds: -0.5 });
    expect(begin({ after: null, gapSeconds: 0.2 }, -1)).toEqual({ after: null, gapSeconds: 0 });
    expect(begin({ into: 'a', mark: 'x' }, 1)).toBeUndefined();
  });
});

it('says in words what the table holds', () => {
  const name = (id: string) => id.toUpperCase();
  const { parts } = order([
    { id: 'a', begins: { after: null, gapSeconds: 0 } },
    { id: 'b', begins: { after: 'a', gapSeconds: -1.5 }, lasts: { untilEndOf: 'a', offsetSeconds: -3, loop: true } },
    { id: 'c', begins: { with: 'a', offsetSeconds: 2 }, lasts: { untilBeginOf: 'b' } },
    { id: 'd', begins: { into: 'a', mark: 'break 1' } },
    { id: 'e', begins: { after: 'd' } },
  ]);
  expect(parts.map((part) => beginsWords(part, name))).toEqual([
    'at the start',
    '1.50 s before A ends',
    '2.00 s after A begins',
    'inside A, at \u201cbreak 1\u201d',
    'when D ends',
  ]);
  expect(parts.slice(0, 3).map((part) => lastsWords(part, name))).toEqual([
    'as long as it is',
    'repeated until 3.00 s before A ends',
    'until B begins',
  ]);
  expect(parts.map((part) => distanceWords(part, 5))).toEqual([
    '',
    '1.50 s over',
    '2.00 s after',
    'break 1, 5.00 s',
    '',
  ]);
});

describe('laid out in the page', () => {
  const pattern = order([
    { id: 'body' },
    { id: 'spot', source: { recording: 's' }, begins: { into: 'body', mark: 'break' } },
  ]);

  it('with what fills its places, their cuts counted; what is not filled lasts a minute', () => {
    const cut = { kind: 'take-out', on: true, startSeconds: 1, endSeconds: 3 };
    const body = recording('b', 30, [['break', 10]], { cuts: [cut] });
    const { resolved } = layOutOrder(pattern, known(body, recording('s', 4)), { body: 'b' });
    expect(resolved!.parts.map(({ start, end }) => [secondsOf(start), secondsOf(end)])).toEqual([
      [0, 32],
      [8, 12],
    ]);
    expect(secondsOf(layOutOrder(pattern, known(recording('s', 4)), {}).resolved!.frames)).toBe(64);
  });

  it('a body without the mark is told by part and field', () => {
    const { faults } = layOutOrder(pattern, known(recording('b', 30), recording('s', 4)), { body: 'b' });
    expect(faults).toMatchObject([{ where: 'part "spot"', field: 'begins.mark' }]);
  });

  it('patterns that ship can be put together as they are', () => {
    for (const shipped of shippedPatterns()) {
      expect(placesOf(shipped)).toContain('body');
      expect(layOutOrder(shipped, known(), {}).faults).toEqual([]);
    }
  });
});

it('what has not moved stays the same object, so that it is not drawn again', () => {
  const one = order([{ id: 'a' }, { id: 'b', begins: { after: 'a', gapSeconds: 1 } }]);
  const two = withPart(one, 'b', { begins: { after: 'a', gapSeconds: 2 } });
  const lie = (file: OrderFile) => layOutOrder(file, known(), {}).resolved!;
  const before = lie(one);
  const after = withUnmoved(before, lie(two));
  expect(after.parts[0]).toBe(before.parts[0]);
  expect(after.parts[1]).not.toBe(before.parts[1]);
  expect(after.frames - before.frames).toBe(48_000);
});

describe('plates', () => {
  const { resolved } = layOutOrder(
    order([
      { id: 'body' },
      { id: 'spot', source: { recording: 's' }, begins: { into: 'body', mark: 'break' } },
      { id: 'next', begins: { after: 'body', gapSeconds: -1 } },
    ]),
    known(recording('b', 10, [['break', 4]]), recording('s', 2)),
    { body: 'b' },
  );
  const [body, spot, next] = resolved!.parts;

  it('show an opened part in two pieces, with the wave of either side', () => {
    expect(soundingSpans(body).map(({ from, to }) => [secondsOf(from), secondsOf(to)])).toEqual([
      [0, 4],
      [6, 12],
    ]);
    // one stroke a pixel, ten a second: loud only in the last second
    const columns = Array.from({ length: 10 }, (_, i): [number, number] => (i < 9 ? [0, 0] : [-1, 1]));
    const strokes = wavePath(body, columns, { scale: 10 / 48_000, height: 46 })
      .split('M')
      .slice(1);
    expect(strokes).toHaveLength(100);
    expect(strokes.filter((stroke) => stroke.includes(' 3.0V'))).toHaveLength(10);
    expect(strokes.at(-1)).toMatch(/^119\.5 /);
  });

  it('lie one under the other where they overlap', () => {
    expect(Object.fromEntries(lanesOf([body, next]))).toEqual({ body: 0, next: 1 });
    expect(lanesOf([spot, next]).get('next')).toBe(0);
    // nor is anything drawn over what is written at one
    expect(lanesOf([spot, next], ({ start, end }) => [start, end + 1e6]).get('next')).toBe(1);
  });
});

describe('what fills the places of many', () => {
  it('a programme for each body, the others in turn', () => {
    expect(fillsOf('body', ['1', '2', '3'], { spot: ['x', 'y'], opening: ['o'], closing: [] })).toEqual([
      { body: '1', spot: 'x', opening: 'o' },
      { body: '2', spot: 'y', opening: 'o' },
      { body: '3', spot: 'x', opening: 'o' },
    ]);
  });

  it('by a table, in which recordings are called by name; what is wrong is told by its line', () => {
    const recordings = [recording('b', 1), recording('s', 1, [], { givenName: 'The spot' })];
    const places = ['body', 'spot'];
    expect(readFillsCsv('body,spot\nb.wav,The spot\n', places, recordings)).toEqual({
      fills: [{ body: 'b', spot: 's' }],
      refused: [],
    });
    const { fills, refused } = readFillsCsv('body,spot\nb.wav,\nx.wav,s.wav', places, recordings);
    expect(fills).toEqual([]);
    expect(refused).toEqual([
      'Line 2: nothing fills \u201cspot\u201d.',
      'Line 3: there is no recording \u201cx.wav\u201d in this title.',
    ]);
    expect(readFillsCsv('body\nb.wav', places, recordings).refused).toEqual(['There is no column \u201cspot\u201d.']);
    // linked recordings are called by all their names
    const member = (recordingId: string) => ({ recordingId, offsetSeconds: 0, driftPpm: 0, confidence: 1 });
    const set = { id: 'set', titleId: 't', members: [member('b'), member('s')], createdAt: '' };
    const linked = linkedFillings([set], recordings);
    expect(linked).toEqual([{ value: 'set', label: 'b.wav + The spot' }]);
    expect(readFillsCsv('body,spot\nb.wav + The spot,s.wav', places, recordings, linked).fills).toEqual([
      { body: 'set', spot: 's' },
    ]);
  });
});

it('a change of one part leaves the others as they were', () => {
  const two = order([{ id: 'a' }, { id: 'b' }]);
  const changed = withPart(two, 'b', { gainDb: 3 });
  expect(changed.parts[0]).toBe(two.parts[0]);
  expect(changed.parts[1].gainDb).toBe(3);
});
