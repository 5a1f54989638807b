import type { ProgrammeLedger, Recording } from '@tonos/contract';
import { NO_CHOICE, type OrderFile, readOrder } from '@tonos/core';
import { layOutOrder } from './lay-out-order.ts';
import {
  HEAR_ALL,
  type Heard,
  type KnownSound,
  LOUDNESS_STEP_SECONDS,
  levelsFrom,
  linesIn,
  liveProgramme,
  loudnessOf,
  type Sounding,
  speechIn,
  viewsOf,
} from './order-sound.ts';

const order = (parts: object[], rest: object = {}): OrderFile =>
  readOrder({
    format: 'tonos.order/1',
    name: 'An evening',
    groups: [{ id: 'voices' }, { id: 'music' }],
    parts: parts.map((part) => ({ group: 'voices', ...part })),
    ...rest,
  });

const recording = (id: string, seconds: number, more: object = {}) =>
  ({
    id,
    name: id,
    kind: 'voice',
    status: 'ready',
    cuts: [],
    boxes: [],
    marks: [{ id: 'm', name: 'half', startSeconds: seconds / 2, endSeconds: seconds / 2 }],
    roomToneChoice: NO_CHOICE,
    measurement: { durationSeconds: seconds, sampleRateHz: 48_000, channels: 1, roomTone: [] },
    ...more,
  }) as unknown as Recording;

const evenly = (lufs: number, seconds: number, speech: [number, number][] = []): KnownSound => ({
  speech: speech.map(([startSeconds, endSeconds]) => ({ startSeconds, endSeconds })),
  momentaryLufs: Array.from({ length: seconds * 4 }, () => lufs),
  stepSeconds: 0.25,
});

function soundingIn(file: OrderFile, recordings: Recording[], sounds: Record<string, KnownSound>) {
  const byId = new Map(recordings.map((one) => [one.id, one]));
  const { resolved, faults } = layOutOrder(file, byId, {});
  expect(faults).toEqual([]);
  const sounding = resolved!.parts.map((placed): Sounding => {
    const id = 'recording' in placed.part.source ? placed.part.source.recording : '';
    return { placed, recording: byId.get(id)!, sound: sounds[id], levelDb: 0 };
  });
  return { resolved: resolved!, sounding };
}

const a = { id: 'a', source: { recording: 'a' } };
const inside = { id: 'b', source: { recording: 'b' }, begins: { into: 'a', mark: 'half' } };

describe('where somebody speaks', () => {
  it('is split where a part is opened, and moves with stretches and cuts', () => {
    const cut = { id: 'c', kind: 'take-out', on: true, startSeconds: 1, endSeconds: 2 };
    const talk = recording('a', 20, { cuts: [cut] });
    const { sounding } = soundingIn(
      order([{ ...a, begins: { after: null, gapSeconds: 3 } }, inside]),
      [talk, recording('b', 5)],
      {
        a: evenly(-20, 20, [
          [4, 6],
          [8, 12],
        ]),
      },
    );
    // a second is taken out before it, the part begins at 3 s, and five seconds play at its half
    expect(speechIn(sounding[0])).toEqual([
      { startSeconds: 6, endSeconds: 8 },
      { startSeconds: 10, endSeconds: 12 },
      { startSeconds: 17, endSeconds: 19 },
    ]);
    const stretch = { ...a, source: { recording: 'a', startSeconds: 5, endSeconds: 9 } };
    const one = soundingIn(order([stretch]), [recording('a', 20)], {
      a: evenly(-20, 20, [
        [4, 6],
        [8, 12],
      ]),
    });
    expect(speechIn(one.sounding[0])).toEqual([
      { startSeconds: 0, endSeconds: 1 },
      { startSeconds: 3, endSeconds: 4 },
    ]);
  });

  it('makes the lines of those that give way to it', () => {
    const file = order([a, { id: 'bed', group: 'music', source: { recording: 'b' } }], {
      under: [{ group: 'music', of: ['voices'], byDb: 12, leadSeconds: 0.5, holdSeconds: 1, releaseSeconds: 2 }],
    });
    const { sounding } = soundingIn(file, [recording('a', 20), recording('b', 20)], {
      a: evenly(-20, 20, [[4, 6]]),
      b: evenly(-30, 20, [[0, 20]]),
    });
    expect(linesIn(file, sounding)).toEqual({
      music: [
        [
          [3.5, -0],
          [4, -12],
          [7, -12],
          [9, 0],
        ],
      ],
    });
  });
});

describe('the loudness of the whole', () => {
  const at = (values: readonly (number | null)[], seconds: number) => values[seconds / LOUDNESS_STEP_SECONDS];

  it('is the sum of powers, with gains and what gives way, over three seconds', () => {
    const file = order(
      [
        { ...a, gainDb: -2 },
        { id: 'bed', group: 'music', source: { recording: 'b' }, begins: { after: null, gapSeconds: 10 } },
      ],
      { groups: [{ id: 'voices', gainDb: 1 }, { id: 'music' }] },
    );
    const { resolved, sounding } = soundingIn(file, [recording('a', 20), recording('b', 20)], {
      a: evenly(-20, 20),
      b: evenly(-21, 20),
    });
    const line = loudnessOf(file, resolved, sounding, {
      music: [
        [
          [24, 0],
          [24.5, -6],
        ],
      ],
    });
    expect(line).toHaveLength(60);
    expect(at(line, 6)).toBeCloseTo(-21, 6);
    // two of the same loudness are 3 dB more
    expect(at(line, 16)).toBeCloseTo(-21 + 10 * Math.log10(2), 6);
    expect(at(line, 22.5)).toBeCloseTo(-21, 6);
    expect(at(line, 29)).toBeCloseTo(-27, 6);
    // a third of a window
    expect(at(line, 0.5)).toBeCloseTo(-21 + 10 * Math.log10(1 / 3), 6);
  });

  it('is nothing where it is silent, and goes on in a part that is repeated', () => {
    const file = order([
      a,
      {
        id: 'bed',
        source: { recording: 'b' },
        begins: { with: 'a', offsetSeconds: 0 },
        lasts: { untilEndOf: 'a', loop: true },
      },
    ]);
    const { resolved, sounding } = soundingIn(file, [recording('a', 12), recording('b', 4)], { b: evenly(-30, 4) });
    const line = loudnessOf(file, resolved, sounding, {});
    for (const seconds of [4, 8, 11]) expect(at(line, seconds)).toBeCloseTo(-30, 6);
    expect(loudnessOf(file, resolved, [], {}).every((value) => value === null)).toBe(true);
  });

  it('asks for long recordings in pieces that are fine enough for pauses', () => {
    const views = viewsOf('a', 3000);
    expect(views.map(({ from, to }) => [from, to])).toEqual([
      [0, 1024],
      [1024, 2048],
      [2048, 3000],
    ]);
    expect(views.every(({ from, to, columns }) => (to - from) / columns === 0.25)).toBe(true);
  });
});

describe('what is listened to', () => {
  const file = order(
    [
      { ...a, chain: null },
      { id: 'bed', group: 'music', source: { recording: 'b' } },
    ],
    {
      groups: [
        { id: 'voices', chain: 'Talk' },
        { id: 'music', gainDb: -3 },
      ],
    },
  );
  const { sounding } = soundingIn(file, [recording('a', 20), recording('b', 20)], {});
  const steps = [
    { id: 'one', kind: 'gain', on: true, mix: 1, settings: { gainDb: 1 } },
    { id: 'two', kind: 'gain', on: false, mix: 1, settings: { gainDb: 1 } },
  ];
  const heard = (which: Partial<Heard>) =>
    liveProgramme({
      order: file,
      sounding,
      lines: { music: [[[0, -6]]] },
      heard: { ...HEAR_ALL, ...which },
      found: { parts: {}, groups: { voices: { one: { learned: 1 } } }, whole: {} },
      stepsOf: (chain) => (chain === 'Talk' ? steps : undefined),
      recordings: [],
    }).groups;

  it('has the groups that are heard, with what their chains learned', () => {
    const [voices, music] = heard({});
    expect(voices.live).toMatchObject({ steps: [{ id: 'one' }], findings: { one: { learned: 1 } } });
    expect(music).toMatchObject({ gainDb: -3, lines: [[[0, -6]]] });
    expect(music.live).toBeUndefined();
    expect(music.parts[0].placed.part).toEqual({ gainDb: 0, pan: 0 });
    expect(heard({ mute: ['voices'] })).toEqual([music]);
    expect(heard({ mute: ['voices'], only: 'voices' })).toEqual([voices]);
    expect(heard({ givesWay: false })[1].lines).toEqual([]);
  });

  it('is brought to its level as it was measured, for as long as it sounds the same', () => {
    const of = order([
      { ...a, level: { integratedLufs: -20 } },
      { ...a, id: 'b', level: { integratedLufs: -20 } },
    ]);
    const figures = {} as ProgrammeLedger['parts'][number]['figures'];
    const ledger = {
      parts: [
        { id: 'a', levelDb: 4, figures },
        { id: 'b', levelDb: 4, figures },
      ],
    } as unknown as ProgrammeLedger;
    const now = order([
      { ...a, level: { integratedLufs: -23 } },
      { ...a, id: 'b', source: { recording: 'c' }, level: { integratedLufs: -20 } },
    ]);
    expect(levelsFrom(now, of, ledger)).toEqual({ a: 1 });
    expect(levelsFrom(now, null, null)).toEqual({});
  });
});
