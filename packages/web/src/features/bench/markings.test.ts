import {
  type Markings,
  withBox,
  withMark,
  withMarkChanged,
  withoutBox,
  withoutMark,
  withRoomTone,
} from './markings.ts';

const none: Markings = { marks: [], roomToneChoice: { use: [], never: [] }, boxes: [], cuts: [] };
const span = (startSeconds: number, endSeconds: number) => ({ startSeconds, endSeconds });

describe('marks', () => {
  const two = withMark(withMark(none, span(5, 6), 'b'), span(1, 1), 'a');

  it('are kept in their order in time, and named by what they are', () => {
    expect(two.marks).toEqual([
      { id: 'a', name: 'Place 2', ...span(1, 1) },
      { id: 'b', name: 'Range 1', ...span(5, 6) },
    ]);
  });

  it('keep their start before their end, wherever the ends are dragged', () => {
    expect(withMarkChanged(two, 'b', { endSeconds: 4 }).marks[1]).toMatchObject(span(4, 5));
    expect(withMarkChanged(two, 'b', span(0, 0.5)).marks.map(({ id }) => id)).toEqual(['b', 'a']);
  });

  it('can be taken away', () => {
    expect(withoutMark(two, 'a').marks.map(({ id }) => id)).toEqual(['b']);
  });
});

it('room tone by hand: the last word on a stretch holds', () => {
  const used = withRoomTone(none, span(2, 4), 'use');
  const { roomToneChoice } = withRoomTone(withRoomTone(used, span(8, 9), 'use'), span(3, 5), 'never');
  expect(roomToneChoice).toEqual({ use: [span(8, 9)], never: [span(3, 5)] });
});

it('boxes come and go by themselves', () => {
  const box = { ...span(1, 2), lowHz: 100, highHz: 200, gainDb: -12 };
  const other = { ...span(0, 1), lowHz: 300, highHz: 400, gainDb: -6 };
  const both = withBox(withBox(none, box, 'a'), other, 'b');
  expect(both.boxes).toEqual([
    { ...other, id: 'b' },
    { ...box, id: 'a' },
  ]);
  expect(withoutBox(both, both.boxes[0]).boxes).toEqual([{ ...box, id: 'a' }]);
});
