import { cutFaults } from '../cuts/check-cuts.ts';
import { secondsAfter, type TimeCut, timeCuts } from '../cuts/cut.ts';
import { cut as inBlocks, MemorySignal } from '../signal/memory.ts';
import { pausesOfAll } from '../steps/shorten-pauses/pauses-of-all.ts';
import { levelDb, noise } from '../testing/index.ts';
import { toResult, toSource } from '../time/time-map.ts';
import { Agreement } from './agreement.ts';
import { jointCuts } from './joint-cuts.ts';
import { placedSource, spanOfSet } from './place.ts';

const RATE = 8000;

describe('what members come to together', () => {
  const lowest = (all: readonly number[]) => all.map(() => Math.min(...all));

  it('waits for all, in whatever order they ask, and answers each its own', async () => {
    const agreement = new Agreement(3);
    const asked = [2, 0, 1].map((member) =>
      agreement.agree(member, 'a', 10 * (member + 1), (all) => all.map((x, i) => x + i)),
    );
    expect(await Promise.all(asked)).toEqual([32, 10, 21]);
  });

  it('goes on without one that leaves, before or after the others have asked', async () => {
    const agreement = new Agreement(3);
    agreement.leave(1);
    const first = agreement.agree(0, 'a', 5, lowest);
    const second = agreement.agree(2, 'a', 3, lowest);
    expect(await Promise.all([first, second])).toEqual([3, 3]);
    const waiting = agreement.agree(0, 'b', 7, lowest);
    agreement.leave(2);
    expect(await waiting).toBe(7);
  });

  it('keeps questions apart', async () => {
    const agreement = new Agreement(2);
    const b = agreement.agree(0, 'b', 1, lowest);
    const a = agreement.agree(1, 'a', 2, lowest);
    const rest = [agreement.agree(1, 'b', 0, lowest), agreement.agree(0, 'a', 9, lowest)];
    expect(await Promise.all([b, a, ...rest])).toEqual([0, 2, 0, 2]);
  });
});

describe('cuts of a set', () => {
  const identity = [
    [0, 0],
    [60, 60],
  ] as const;
  /** Begins 2 s later than the first. */
  const later = [
    [0, 2],
    [50, 52],
  ] as const;
  const of = (own: object[], other: object[]): TimeCut[][] =>
    jointCuts([
      { cuts: timeCuts.parse(own), map: identity },
      { cuts: timeCuts.parse(other), map: later },
    ]);
  const takeOut = { kind: 'take-out', id: 't', startSeconds: 10, endSeconds: 12 };
  const cover = { kind: 'room-tone', id: 'r', startSeconds: 20, endSeconds: 21 };
  const pickUp = { kind: 'pick-up', id: 'p', startSeconds: 30, endSeconds: 33, recordingId: 'x', fromSeconds: 0 };

  it('hold for all where they change time, on the time of all; what covers is covered where it was made', () => {
    const [own, other] = of([cover], [takeOut]);
    expect(own.map(({ kind }) => kind)).toEqual(['take-out', 'room-tone']);
    expect(own[0]).toMatchObject({ startSeconds: 12, endSeconds: 14 });
    expect(other).toMatchObject([{ kind: 'take-out', startSeconds: 12, endSeconds: 14 }]);
  });

  it.each([
    ['longer', 4.5, { kind: 'pause', atSeconds: 33, lengthSeconds: 1.5 }],
    ['shorter', 2, { kind: 'take-out', startSeconds: 32, endSeconds: 33 }],
  ])('let the others be as much %s as a pick-up is', (_, toSeconds, wanted) => {
    const [own, other] = of([{ ...pickUp, toSeconds }], []);
    expect(own).toMatchObject([{ kind: 'pick-up' }]);
    expect(other).toMatchObject([wanted]);
    expect(secondsAfter(own, 60)).toBeCloseTo(secondsAfter(other, 60), 9);
  });

  it('leave the others alone where a pick-up is as long, and leave out what is off', () => {
    expect(of([{ ...pickUp, toSeconds: 3 }], [{ ...takeOut, on: false }])).toMatchObject([[{ kind: 'pick-up' }], []]);
  });

  it('that overlap on the time of all are told of by their names', () => {
    const [own] = of([{ ...takeOut, id: 'mine', startSeconds: 11, endSeconds: 13 }], [{ ...takeOut, id: 'theirs' }]);
    expect(cutFaults(own, 60).join()).toMatch(/"mine".*"theirs"/);
  });
});

describe('pauses of several', () => {
  const pause = (startSeconds: number, endSeconds: number) => ({
    startSeconds,
    endSeconds,
    quiet: [{ startSeconds: startSeconds + 0.1, endSeconds: endSeconds - 0.1 }],
  });
  const speech = (startSeconds: number, endSeconds: number) => ({ startSeconds, endSeconds });

  it('are where none of them speaks', () => {
    const all = pausesOfAll([
      { speech: speech(1, 30), pauses: [pause(5, 10), pause(15, 20)] },
      { speech: speech(6, 18), pauses: [pause(8, 12)] },
    ]);
    // before 6 s and after 18 s the second one has but its room
    expect(all.map(({ startSeconds, endSeconds }) => [startSeconds, endSeconds])).toEqual([
      [5, 6],
      [8, 10],
      [18, 20],
    ]);
    expect(all[1].quiet).toEqual([{ startSeconds: 8.1, endSeconds: 9.9 }]);
    expect(all[2].quiet).toEqual([{ startSeconds: 18, endSeconds: 19.9 }]);
  });

  it('are those of one, where the other never speaks, and none where nobody does', () => {
    const own = { speech: speech(1, 30), pauses: [pause(5, 10)] };
    expect(pausesOfAll([own, { speech: null, pauses: [] }])).toEqual(own.pauses);
    expect(pausesOfAll([{ speech: null, pauses: [] }])).toEqual([]);
  });
});

describe('a member on the time of its set', () => {
  const source = new MemorySignal({ sampleRateHz: RATE, channels: 1 }, [...inBlocks([noise(0.1, 10, RATE)], 1000)]);
  const heard = async (placed: ReturnType<typeof placedSource>) => {
    const sink = new MemorySignal(source.format);
    for await (const block of placed.source.blocks()) sink.write(block);
    return sink.joined()[0];
  };

  it('is as long as the set, with its room before and after it', async () => {
    const room = [[noise(0.001, 2, RATE, 5)]];
    const place = { offsetSeconds: 3, driftPpm: 0 };
    const span = spanOfSet([
      { place: { offsetSeconds: 0, driftPpm: 0 }, seconds: 12 },
      { place, seconds: 10 },
    ]);
    expect(span).toEqual({ startSeconds: 0, endSeconds: 13 });
    const placed = placedSource(source, 10 * RATE, place, { ...span, endSeconds: 15 }, room);
    const samples = await heard(placed);
    expect(samples.length).toBe(15 * RATE);
    expect(Math.abs(levelDb(samples.subarray(0, 2.9 * RATE)) + 60)).toBeLessThan(1);
    expect(Math.abs(levelDb(samples.subarray(13.1 * RATE)) + 60)).toBeLessThan(1);
    expect(samples.subarray(3.1 * RATE, 12.9 * RATE)).toEqual(
      (await source.joined())[0].subarray(0.1 * RATE, 9.9 * RATE),
    );
    expect(toResult(placed.map, 5)).toBeCloseTo(8, 6);
  });

  it('has the set\u2019s clock', async () => {
    const place = { offsetSeconds: -1, driftPpm: 200 };
    const span = spanOfSet([{ place, seconds: 10 }]);
    const placed = placedSource(source, 10 * RATE, place, span, []);
    expect((await heard(placed)).length).toBe(Math.round((10 / 1.0002) * RATE));
    expect(toSource(placed.map, 5)).toBeCloseTo(5 * 1.0002, 4);
  });
});
