import { type Chosen, movedInPitch, movedInTime } from './choose-edges.ts';

const bounds = { totalSeconds: 10, lowestHz: 40, highestHz: 20_480 };
const chosen = (startSeconds: number, endSeconds: number, edge: Chosen['edge'] = 'end'): Chosen => ({
  selection: { startSeconds, endSeconds },
  edge,
});

it('P21: an end is moved by keys, past the other one and back, and never out of the recording', () => {
  expect(movedInTime(chosen(2, 4), 1.5, bounds)).toEqual(chosen(2, 5.5));
  expect(movedInTime(chosen(2, 4, 'start'), -3, bounds)).toEqual(chosen(0, 4, 'start'));
  expect(movedInTime(chosen(2, 4), 30, bounds)).toEqual(chosen(2, 10));
  const passed = movedInTime(chosen(2, 4), -3, bounds);
  expect(passed).toEqual(chosen(1, 2, 'start'));
  expect(movedInTime(passed, 3, bounds)).toEqual(chosen(2, 4));
  // a place becomes a stretch on either side
  expect(movedInTime(chosen(3, 3), -1, bounds)).toEqual(chosen(2, 3, 'start'));
});

it('P21: frequencies are chosen by keys in octaves; a stretch becomes a box of all of them first', () => {
  const box = movedInPitch(chosen(2, 4), -3, bounds);
  expect(box.selection).toEqual({ startSeconds: 2, endSeconds: 4, lowHz: 40, highHz: 2560 });
  const both = movedInPitch({ ...box, edge: 'start' }, 2, bounds);
  expect(both.selection).toMatchObject({ lowHz: 160, highHz: 2560 });
  expect(movedInPitch(both, 9, bounds).selection).toMatchObject({ lowHz: 2560, highHz: 2560 });
  expect(movedInPitch({ ...both, edge: 'end' }, 9, bounds).selection).toMatchObject({ lowHz: 160, highHz: 20_480 });
});
