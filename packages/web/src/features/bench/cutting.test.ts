import type { Mark, Recording, RecordingSet } from '@tonos/contract';
import { type TimeCut, timeCut } from '@tonos/core';
import { cutHint, cutLabel, cutLengthText } from './cut-words.ts';
import { coversOf, type Markings, type NewCut, roomToneOver, withCuts, withNote, withoutCut } from './markings.ts';
import { onTimeOf } from './member-time.ts';
import { pickUpFrom, pickUpSources } from './pick-up-choice.ts';
import { isElsewhere } from './use-cutting.ts';

const none: Markings = { marks: [], roomToneChoice: { use: [], never: [] }, boxes: [], cuts: [] };
const cutOf = (cut: object) => timeCut.parse(cut) as NewCut;
const takeOut = (id: string, startSeconds: number, endSeconds: number) =>
  cutOf({ kind: 'take-out', id, startSeconds, endSeconds });
const pause = cutOf({ kind: 'pause', id: 'p', atSeconds: 2.5, lengthSeconds: 0.8 });
const ids = () => {
  let next = 0;
  return () => `new-${++next}`;
};

describe('cuts', () => {
  it('are kept in the order of their places, each in the place of the one of its id', () => {
    const one = withCuts(none, [takeOut('b', 5, 6)], 20) as Markings;
    const two = withCuts(one, [takeOut('a', 1, 2)], 20) as Markings;
    const moved = withCuts(two, [takeOut('b', 7, 8)], 20) as Markings;
    expect(moved.cuts).toMatchObject([{ id: 'a' }, { id: 'b', startSeconds: 7 }]);
    expect(withoutCut(moved, 'a').cuts).toMatchObject([{ id: 'b' }]);
  });

  it('that can\u2019t be made say why', () => {
    const one = withCuts(none, [takeOut('a', 1, 5)], 20) as Markings;
    expect(withCuts(one, [takeOut('b', 4, 6)], 20)).toMatch(/"a".*"b".*overlap/);
    expect(withCuts(none, [takeOut('a', 1, 25)], 20)).toMatch(/outside/);
  });

  it('cover every range of a name, where it is not cut already', () => {
    const range = (id: string, startSeconds: number, name = 'cough'): Mark => ({
      id,
      name,
      startSeconds,
      endSeconds: startSeconds + 1,
    });
    const marked: Markings = {
      ...none,
      marks: [range('1', 2), range('2', 6), range('3', 9, 'page'), { ...range('4', 12), endSeconds: 12 }],
      cuts: [takeOut('a', 6.5, 8)],
    };
    expect(roomToneOver(marked, 'cough', ids())).toEqual([
      { kind: 'room-tone', id: 'new-1', on: true, startSeconds: 2, endSeconds: 3 },
    ]);
    const spans = [
      { startSeconds: 1, endSeconds: 2 },
      { startSeconds: 7, endSeconds: 7.2 },
    ];
    expect(coversOf(spans, marked.cuts, ids())).toHaveLength(1);
    expect(coversOf(spans, [{ ...marked.cuts[0], on: false }], ids())).toHaveLength(2);
  });

  it('are told in words: what, where, how much shorter or longer', () => {
    expect(cutLabel(takeOut('a', 1, 2.5))).toBe('Taken out');
    expect(cutLengthText(takeOut('a', 1, 2.5))).toBe('1.5 s shorter');
    expect(cutLabel(pause)).toBe('Pause 0.8 s');
    expect(cutHint(pause)).toBe('Pause at 0:02.50, 0.8 s longer');
    expect(cutLengthText(cutOf({ kind: 'room-tone', startSeconds: 1, endSeconds: 2 }))).toBe('as long');
  });

  it('know whether something else is chosen', () => {
    expect(isElsewhere(takeOut('a', 1, 2), { startSeconds: 1, endSeconds: 2 })).toBe(false);
    expect(isElsewhere(takeOut('a', 1, 2), { startSeconds: 1, endSeconds: 2.1 })).toBe(true);
    // a pause has a place only
    expect(isElsewhere(pause, { startSeconds: 2.5, endSeconds: 4 })).toBe(false);
    expect(isElsewhere(pause as TimeCut, { startSeconds: 3, endSeconds: 4 })).toBe(true);
  });
});

describe('a pick-up', () => {
  const recording = (id: string, name: string, more: object = {}) =>
    ({ id, name, givenName: '', room: '', microphone: '', status: 'ready', ...more }) as unknown as Recording;
  const short = recording('s', 'a.wav', {
    measurement: { durationSeconds: 9, headSilenceSeconds: 0.7, tailSilenceSeconds: 2 },
  });
  const long = recording('l', 'b.wav', {
    measurement: { durationSeconds: 900, headSilenceSeconds: 0.05, tailSilenceSeconds: 2 },
  });

  it('comes from what is called so first, and from nothing that can\u2019t be read', () => {
    const all = [
      recording('1', 'chapter.wav'),
      recording('2', 'broken pickup.wav', { status: 'unreadable' }),
      recording('3', 'Pick-ups of May.wav'),
      recording('4', 'x.wav', { room: 'retakes' }),
    ];
    expect(pickUpSources(all).map(({ id }) => id)).toEqual(['3', '4', '1']);
  });

  it('is all that a short one says, or as much as it stands for', () => {
    const over = { startSeconds: 10, endSeconds: 13 };
    expect(pickUpFrom(short, over)).toMatchObject({
      recordingId: 's',
      fromSeconds: 0.6,
      toSeconds: 7.1,
      matchRoom: true,
    });
    expect(pickUpFrom(long, over)).toMatchObject({ fromSeconds: 0, toSeconds: 3 });
  });
});

it('a note is a place with what is to be seen to', () => {
  expect(withNote(none, 3.25, 'A chair', 'n').marks).toEqual([
    { id: 'n', name: 'Note', startSeconds: 3.25, endSeconds: 3.25, note: { text: 'A chair', state: 'open', by: '' } },
  ]);
});

it('a member of a set is seen at the same moment as the one above it', () => {
  const member = (recordingId: string, offsetSeconds: number, driftPpm = 0): RecordingSet['members'][number] => ({
    recordingId,
    offsetSeconds,
    driftPpm,
    confidence: 1,
  });
  const range = { fromSeconds: 10, toSeconds: 20 };
  expect(onTimeOf(member('a', 0), member('b', 4), range)).toEqual({ fromSeconds: 6, toSeconds: 16 });
  expect(onTimeOf(member('b', 4), member('a', 0), range)).toEqual({ fromSeconds: 14, toSeconds: 24 });
  const fast = onTimeOf(member('a', 0), member('c', 0, 100), range);
  expect(fast.toSeconds).toBeCloseTo(20.002, 9);
});
