import type { Mark } from '@tonos/contract';
import { overlaps, type SpectralBox, type TimeSpan } from '@tonos/core';
import fc from 'fast-check';
import {
  changesBetween,
  type Markings,
  withBox,
  withBoxChanged,
  withChange,
  withMark,
  withMarkChanged,
  withoutBox,
  withoutMark,
  withoutRoomTone,
  withRoomTone,
} from './markings.ts';

const NOTHING: Markings = { marks: [], roomToneChoice: { use: [], never: [] }, boxes: [], cuts: [] };

const seconds = fc.integer({ min: 0, max: 600 }).map((tenths) => tenths / 10);
const span: fc.Arbitrary<TimeSpan> = fc.tuple(seconds, seconds).map(([a, b]) => ({
  startSeconds: Math.min(a, b),
  endSeconds: Math.max(a, b),
}));
const length = ({ startSeconds, endSeconds }: TimeSpan) => endSeconds - startSeconds;

const isSorted = (spans: readonly TimeSpan[]) =>
  spans.every((one, i) => i === 0 || spans[i - 1].startSeconds <= one.startSeconds);

it('marks lie in the order of time however they come, move and go, and none begins after its end', () => {
  const act = fc.oneof(
    fc.record({ kind: fc.constant('add' as const), span }),
    fc.record({
      kind: fc.constant('move' as const),
      which: fc.nat(20),
      at: seconds,
      end: fc.constantFrom('start', 'end'),
    }),
    fc.record({ kind: fc.constant('remove' as const), which: fc.nat(20) }),
  );
  fc.assert(
    fc.property(fc.array(act, { maxLength: 25 }), (acts) => {
      let markings = NOTHING;
      const there = new Set<string>();
      acts.forEach((one, k) => {
        const chosen = one.kind === 'add' ? undefined : markings.marks[one.which % (markings.marks.length || 1)];
        if (one.kind === 'add') {
          markings = withMark(markings, one.span, `m${k}`);
          there.add(`m${k}`);
        } else if (chosen && one.kind === 'move') {
          const change: Partial<Mark> = one.end === 'start' ? { startSeconds: one.at } : { endSeconds: one.at };
          markings = withMarkChanged(markings, chosen.id, change);
        } else if (chosen) {
          markings = withoutMark(markings, chosen.id);
          there.delete(chosen.id);
        }
        expect(isSorted(markings.marks)).toBe(true);
        expect(markings.marks.every((mark) => length(mark) >= 0)).toBe(true);
        expect(new Set(markings.marks.map(({ id }) => id))).toEqual(there);
      });
    }),
  );
});

it('a place and a range get names that tell them apart', () => {
  const named = withMark(
    withMark(NOTHING, { startSeconds: 3, endSeconds: 3 }, 'a'),
    { startSeconds: 1, endSeconds: 2 },
    'b',
  );
  expect(named.marks.map(({ name }) => name)).toEqual(['Range 2', 'Place 1']);
});

it('what is said last of a stretch holds: no room tone is asked for and refused at once', () => {
  const saying = fc.record({
    span: span.filter((one) => length(one) > 0),
    said: fc.constantFrom('use' as const, 'never' as const),
  });
  fc.assert(
    fc.property(fc.array(saying, { minLength: 1, maxLength: 15 }), (sayings) => {
      const { roomToneChoice } = sayings.reduce((markings, one) => withRoomTone(markings, one.span, one.said), NOTHING);
      const { use, never } = roomToneChoice;
      const all = [...use, ...never];
      all.forEach((one, i) => {
        for (const other of all.slice(i + 1)) expect(overlaps(one, other)).toBe(false);
      });
      expect(isSorted(use) && isSorted(never)).toBe(true);
      const last = sayings.at(-1)!;
      expect(roomToneChoice[last.said]).toContainEqual(last.span);
    }),
  );
});

it('what was said of room tone is taken back by itself', () => {
  const one = withRoomTone(
    withRoomTone(NOTHING, { startSeconds: 0, endSeconds: 1 }, 'use'),
    { startSeconds: 4, endSeconds: 5 },
    'never',
  );
  const without = withoutRoomTone(one, one.roomToneChoice.use[0]);
  expect(without.roomToneChoice).toEqual({ use: [], never: [{ startSeconds: 4, endSeconds: 5 }] });
  expect(one.roomToneChoice.use).toHaveLength(1); // undo goes back to what was
});

it('boxes are put in by time, changed and taken away, each by itself', () => {
  const box = (startSeconds: number): SpectralBox => ({
    startSeconds,
    endSeconds: startSeconds + 1,
    lowHz: 100,
    highHz: 900,
    gainDb: -12,
  });
  const two = withBox(withBox(NOTHING, box(5), 'a'), box(2), 'b');
  expect(two.boxes.map(({ startSeconds }) => startSeconds)).toEqual([2, 5]);
  const changed = withBoxChanged(two, two.boxes[1], { gainDb: -30 });
  expect(changed.boxes.map(({ gainDb }) => gainDb)).toEqual([-12, -30]);
  expect(withoutBox(changed, changed.boxes[0]).boxes).toEqual([changed.boxes[1]]);
  expect(two.boxes.map(({ gainDb }) => gainDb)).toEqual([-12, -12]);
});

/** What somebody makes of what is marked; whatever they put in is theirs by its id. */
const acts = (who: string) =>
  fc
    .array(fc.record({ kind: fc.constantFrom('mark', 'box', 'move', 'remove', 'tone'), which: fc.nat(9), span }), {
      maxLength: 8,
    })
    .map(
      (all) =>
        (from: Markings): Markings =>
          all.reduce((markings, { kind, which, span: at }, k) => {
            const box = { ...at, lowHz: 100, highHz: 200, gainDb: -which };
            if (kind === 'mark') return withMark(markings, at, `${who} ${k}`);
            if (kind === 'box') return withBox(markings, box, `${who} ${k}`);
            if (kind === 'tone') return withRoomTone(markings, at, which % 2 ? 'use' : 'never');
            const own = markings.marks.filter(({ id }) => id.startsWith(who));
            const mark = own[which % (own.length || 1)];
            if (!mark) return markings;
            return kind === 'move' ? withMarkChanged(markings, mark.id, at) : withoutMark(markings, mark.id);
          }, from),
    );
const ids = ({ marks, boxes }: Markings) => [...marks, ...boxes].map(({ id }) => id).sort();

it('P17: a change leads from what was to what is, and undo back again', () => {
  fc.assert(
    fc.property(acts('mine'), acts('mine too'), (first, second) => {
      const before = first(NOTHING);
      const after = second(before);
      expect(withChange(before, changesBetween(before, after))).toEqual(after);
      expect(withChange(after, changesBetween(after, before))).toEqual(before);
    }),
  );
});

it('P17: what one undoes leaves what another one marked meanwhile, and the other way round', () => {
  fc.assert(
    fc.property(acts('mine'), acts('theirs'), (mine, theirs) => {
      const after = mine(NOTHING);
      const both = withChange(after, changesBetween(NOTHING, theirs(NOTHING)));
      expect(ids(both)).toEqual([...ids(after), ...ids(theirs(NOTHING))].sort());
      expect(ids(withChange(both, changesBetween(after, NOTHING)))).toEqual(ids(theirs(NOTHING)));
    }),
  );
});
