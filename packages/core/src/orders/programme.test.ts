import fc from 'fast-check';
import { hearRooms } from '../cuts/hear-rooms.ts';
import { cut, MemorySignal, MemorySpool } from '../signal/memory.ts';
import type { Block } from '../signal/signal.ts';
import { babble, levelDb, noise, rmsOf, sine } from '../testing/index.ts';
import { memorySurroundings } from '../testing/process.ts';
import { givingWayLine, LineGain } from './giving-way.ts';
import { groupTrack, partTrack, summed } from './mixer.ts';
import { readOrder } from './order-faults.ts';
import { soundOf } from './part-source.ts';
import { type PreparedPart, preparePart } from './prepare-part.ts';
import { buildProgramme } from './programme.ts';
import { resolveOrder } from './resolve-order.ts';

const RATE = 8000;

interface Sound {
  block: Block;
  sampleRateHz?: number;
  marks?: { name: string; startSeconds: number; endSeconds: number }[];
}

/** Mixes parts as their order says, up to the sum; sources are cut into blocks of an odd size. */
async function mixed(written: Record<string, unknown>, sounds: Record<string, Sound>) {
  const order = readOrder({ format: 'tonos.order/1', name: 'Test', groups: [{ id: 'all' }], ...written });
  const format = { sampleRateHz: RATE, channels: order.channels };
  const prepared = new Map<string, PreparedPart>();
  for (const part of order.parts) {
    const { block, marks, sampleRateHz = RATE } = sounds[part.id];
    const source = new MemorySignal({ sampleRateHz, channels: block.length }, [...cut(block, 777)]);
    prepared.set(part.id, await preparePart({ source, known: { marks }, boxes: [] }, part, format, memorySurroundings));
  }
  const known = new Map(
    [...prepared].map(([id, { frames, sound, known }]) => [
      id,
      {
        frames,
        channels: sound.format.channels,
        marks: (known.marks ?? []).map(({ name, startSeconds }) => ({ name, frame: Math.round(startSeconds * RATE) })),
      },
    ]),
  );
  const resolved = resolveOrder(order, known, RATE);
  const parts = new Map(
    await Promise.all(
      resolved.parts.map(async ({ part, openings }) => {
        const own = prepared.get(part.id)!;
        const { rooms } = await hearRooms(
          own.sound,
          undefined,
          openings.map(({ at }) => at / RATE),
        );
        return [part.id, { sound: soundOf(own.sound, rooms), levelDb: own.levelDb }] as const;
      }),
    ),
  );
  const programme = await buildProgramme(order, resolved, parts, memorySurroundings);
  const read = async () => {
    const whole = new MemorySpool(format);
    for await (const block of programme.source.blocks()) whole.write(block);
    return whole.joined();
  };
  return { resolved, programme, prepared, out: await read(), again: read };
}

const part = (id: string, rest: Record<string, unknown> = {}) => ({
  id,
  group: 'all',
  source: { recording: id },
  ...rest,
});
const impulses = (frames: number, ...at: number[]): Block => {
  const channel = new Float32Array(frames);
  for (const frame of at) channel[frame] = 0.5;
  return [channel];
};
const loudAt = ([channel]: Block): number[] => [...channel.keys()].filter((i) => Math.abs(channel[i]) > 0.1);

it('is the plain sum of its parts, to the bit, wherever they lie and however often it is read', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.tuple(fc.nat(20_000), fc.integer({ min: 1, max: 12_000 })), { minLength: 1, maxLength: 6 }),
      async (sketch) => {
        const sounds = Object.fromEntries(
          sketch.map(([, frames], i) => [`p${i}`, { block: [noise(0.1, frames / RATE, RATE, i + 1)] }]),
        );
        const parts = sketch.map(([start], i) => part(`p${i}`, { begins: { after: null, gapSeconds: start / RATE } }));
        const { out, again } = await mixed({ channels: 1, parts }, sounds);
        const frames = Math.max(...sketch.map(([start, long]) => start + long));
        const plain = new Float32Array(frames);
        // in the order in which they begin
        const ordered = sketch.map(([start], i) => ({ start, i })).sort((a, b) => a.start - b.start);
        for (const { start, i } of ordered)
          sounds[`p${i}`].block[0].forEach((x, k) => {
            plain[start + k] += x;
          });
        expect(out[0]).toEqual(plain);
        expect(await again()).toEqual(out);
      },
    ),
    { numRuns: 8 },
  );
});

it('a part of one channel is placed by cos and sin; one of two passes, and makes a mean where the programme has one', async () => {
  const tone = [sine(100, 0.5, 1, RATE)];
  for (const [pan, left, right] of [
    [0, Math.SQRT1_2, Math.SQRT1_2],
    [-1, 1, 0],
    [0.5, Math.cos((3 * Math.PI) / 8), Math.sin((3 * Math.PI) / 8)],
  ]) {
    const { out } = await mixed({ parts: [part('a', { pan })] }, { a: { block: tone } });
    expect(out[0][20]).toBeCloseTo(left * tone[0][20], 6);
    expect(out[1][20]).toBeCloseTo(right * tone[0][20], 6);
  }
  const two = { a: { block: [sine(100, 0.5, 1, RATE), sine(300, 0.2, 1, RATE)] } };
  const { out } = await mixed({ parts: [part('a', { gainDb: -6 })] }, two);
  expect(out[1][33]).toBeCloseTo(10 ** (-6 / 20) * two.a.block[1][33], 6);
  const one = await mixed({ channels: 1, parts: [part('a')] }, two);
  expect(one.out[0][33]).toBeCloseTo((two.a.block[0][33] + two.a.block[1][33]) / 2, 6);
});

it('a part that is opened stops at its mark, goes on behind what plays there, and its room joins them', async () => {
  const room = 0.003;
  const body = mixedSignals(noise(room, 12, RATE), impulsesOf(12, 2, 5, 7));
  const marks = [{ name: 'break', startSeconds: 6, endSeconds: 6 }];
  const spot = impulses(3 * RATE, 0, 3 * RATE - 1);
  const parts = [part('body'), part('spot', { begins: { into: 'body', mark: 'break' } })];
  const { out, resolved } = await mixed(
    { channels: 1, parts },
    { body: { block: [body], marks }, spot: { block: spot } },
  );
  expect(resolved.frames).toBe(15 * RATE);
  expect(loudAt(out)).toEqual([2, 5, 6, 9 - 1 / RATE, 10].map((s) => Math.round(s * RATE)));
  const level = (from: number, to: number) => levelDb(out[0].subarray(from * RATE, to * RATE));
  // the room goes on a little, is gone, and is there again
  expect(Math.abs(level(6.01, 6.1) - levelDb(body.subarray(0, RATE)))).toBeLessThan(2);
  expect(level(6.55, 8.45)).toBe(Number.NEGATIVE_INFINITY);
  expect(Math.abs(level(8.9, 8.99) - levelDb(body.subarray(0, RATE)))).toBeLessThan(2);
});

it('a part that is repeated has no seam: power stays within 0.5 dB at its joins', async () => {
  const bed = noise(0.1, 3, RATE, 9);
  const parts = [part('a'), part('bed', { lasts: { untilEndOf: 'a', loop: true } })];
  const { out } = await mixed(
    { channels: 1, parts },
    { a: { block: [new Float32Array(20 * RATE)] }, bed: { block: [bed] } },
  );
  expect(out[0].length).toBe(20 * RATE);
  expect(out[0].subarray(0, 2 * RATE)).toEqual(bed.subarray(0, 2 * RATE));
  // a join of half a second comes round every 2.5 s: the mean of all of them, against the rest
  const joins = [2.5, 5, 7.5, 10, 12.5, 15, 17.5].map((s) => rmsOf(out[0].subarray(s * RATE, (s + 0.5) * RATE)) ** 2);
  const mean = joins.reduce((sum, power) => sum + power, 0) / joins.length;
  expect(Math.abs(10 * Math.log10(mean) - levelDb(bed))).toBeLessThan(0.5);
});

it('an overlap goes over at equal power, and fades that are said follow their shapes within 0.1 dB', async () => {
  const [a, b] = [noise(0.1, 4, RATE, 1), noise(0.1, 4, RATE, 2)];
  const over = await mixed(
    { channels: 1, parts: [part('a'), part('b', { begins: { after: 'a', gapSeconds: -2 } })] },
    { a: { block: [a] }, b: { block: [b] } },
  );
  for (const s of [2, 2.5, 3, 3.5])
    expect(Math.abs(levelDb(over.out[0].subarray(s * RATE, (s + 0.5) * RATE)) - levelDb(a))).toBeLessThan(0.5);
  const steady = [new Float32Array(4 * RATE).fill(0.5)];
  const said = await mixed(
    { channels: 1, parts: [part('a', { fadeInSeconds: 1, fadeOutSeconds: 2, shape: 'linear' })] },
    { a: { block: steady } },
  );
  for (const [s, gain] of [
    [0.25, 0.25],
    [0.5, 0.5],
    [1.5, 1],
    [2.5, 0.75],
    [3.8, 0.1],
  ])
    expect(Math.abs(20 * Math.log10(said.out[0][s * RATE] / 0.5 / gain))).toBeLessThan(0.1);
});

it('a level is reached by gain alone, at any rate and layout; without loudness there is an error that names the part', async () => {
  for (const [sampleRateHz, channels] of [
    [8000, 1],
    [44_100, 2],
  ]) {
    const tone = Array.from({ length: channels }, () => sine(1000, 0.02, 3, sampleRateHz));
    const { out } = await mixed(
      { parts: [part('a', { level: { integratedLufs: -20 } })] },
      { a: { block: tone, sampleRateHz } },
    );
    // a tone of 997 Hz at full scale in one channel has -3.01 LUFS (ITU-R BS.1770)
    const power =
      (out[0].slice(RATE, 2 * RATE).reduce((sum, x) => sum + x * x, 0) +
        out[1].slice(RATE, 2 * RATE).reduce((sum, x) => sum + x * x, 0)) /
      RATE;
    expect(Math.abs(10 * Math.log10(power) + 0.01 - -20)).toBeLessThan(0.1);
    expect(Math.abs(out[0].length - 3 * RATE)).toBeLessThanOrEqual(1);
  }
  await expect(
    mixed({ parts: [part('a', { level: { integratedLufs: -20 } })] }, { a: { block: [new Float32Array(RATE)] } }),
  ).rejects.toThrow('part "a", level: it is silent');
});

it('a stretch is to the sample, and a chain of one\u2019s own may move the marks in it', async () => {
  const marks = [{ name: 'break', startSeconds: 3, endSeconds: 3 }];
  const source = { recording: 'a', startSeconds: 1, endSeconds: 4 };
  const block = impulses(6 * RATE, RATE, 2 * RATE, 4 * RATE - 1, 4 * RATE);
  const plain = await mixed({ channels: 1, parts: [part('a', { source })] }, { a: { block, marks } });
  expect(loudAt(plain.out)).toEqual([0, RATE, 3 * RATE - 1]);
  expect(plain.prepared.get('a')!.known.marks).toEqual([{ name: 'break', startSeconds: 2, endSeconds: 2 }]);
});

it('a group\u2019s chain studies the sum of the group', async () => {
  const groups = [
    {
      id: 'all',
      chain: {
        name: 'Level',
        steps: [{ kind: 'loudness-normalise', settings: { integratedLufs: -23 } }],
      },
      gainDb: -3,
    },
  ];
  const parts = [part('a'), part('b', { begins: { after: 'a', gapSeconds: 0 } })];
  const { out } = await mixed(
    { channels: 1, groups, parts },
    { a: { block: [sine(1000, 0.3, 6, RATE)] }, b: { block: [sine(1000, 0.03, 2, RATE)] } },
  );
  const [loud, low] = [levelDb(out[0].subarray(RATE, 1.5 * RATE)), levelDb(out[0].subarray(7 * RATE, 7.5 * RATE))];
  // both by one gain; relative gating leaves the lower one out, so that the loud one alone comes to -23 LUFS
  expect(Math.abs(loud - low - 20)).toBeLessThan(0.1);
  expect(Math.abs(loud - (-23 - 3))).toBeLessThan(0.2);
});

describe('giving way', () => {
  const WAY = { byDb: 12, leadSeconds: 0.3, holdSeconds: 0.8, releaseSeconds: 1.5 };
  const gainDbAt = (speech: [number, number][], moments: number[]) => {
    const line = givingWayLine(
      speech.map(([startSeconds, endSeconds]) => ({ startSeconds, endSeconds })),
      WAY,
    );
    const gains = new Float32Array(20 * RATE).fill(1);
    const gain = new LineGain(line, RATE);
    for (let at = 0; at < gains.length; at += 1234) gain.applyTo(gains.subarray(at, at + 1234), at);
    return moments.map((s) => Number((20 * Math.log10(gains[Math.round(s * RATE)])).toFixed(2)) + 0);
  };

  it('is down at the first word, holds, and comes back, on straight lines in decibels', () => {
    expect(gainDbAt([[2, 4]], [0, 1.7, 1.85, 2, 3, 4.8, 5.55, 6.3, 10])).toEqual([0, 0, -6, -12, -12, -12, -6, 0, 0]);
  });

  it('stays down over short gaps, and is turned from where it is by speech that begins meanwhile', () => {
    expect(
      gainDbAt(
        [
          [2, 4],
          [5, 6],
        ],
        [4.5, 4.9, 5],
      ),
    ).toEqual([-12, -12, -12]);
    // back half way by 5.55 s, when it has to go down again
    expect(
      gainDbAt(
        [
          [2, 4],
          [5.85, 7],
        ],
        [4.8, 5.55, 5.7, 5.85],
      ),
    ).toEqual([-12, -6, -9, -12]);
    expect(gainDbAt([[0.15, 1]], [0, 0.15])).toEqual([-6, -12]);
    expect(gainDbAt([], [0, 5])).toEqual([0, 0]);
  });

  it('turns one group down while another speaks, as the meter finds it', async () => {
    const groups = [{ id: 'voices' }, { id: 'all' }];
    const voice = babble(12, RATE).map((x, i) => (i > 5 * RATE && i < 8 * RATE ? 3 * x : 0));
    const speaking = mixedSignals(voice, noise(1e-4, 12, RATE));
    const { out, programme } = await mixed(
      {
        channels: 1,
        groups,
        parts: [part('bed'), part('voice', { group: 'voices', gainDb: -60 })],
        under: [{ group: 'all', of: ['voices'], ...WAY }],
      },
      { bed: { block: [sine(3000, 0.5, 12, RATE)] }, voice: { block: [speaking] } },
    );
    const level = (from: number, to: number) =>
      levelDb(out[0].subarray(from * RATE, to * RATE)) - levelDb(sine(3000, 0.5, 1, RATE));
    expect(Math.abs(level(1, 4))).toBeLessThan(0.1);
    expect(Math.abs(level(5.5, 7.5) + 12)).toBeLessThan(0.1);
    expect(Math.abs(level(11.5, 12))).toBeLessThan(0.1);
    const [line] = programme.lines.all;
    expect(Math.abs(line[1][0] - 5)).toBeLessThan(0.15);
  });
});

const mixedSignals = (...signals: Float32Array[]): Float32Array =>
  signals[0].map((_, i) => signals.reduce((sum, signal) => sum + signal[i], 0));
const impulsesOf = (seconds: number, ...at: number[]): Float32Array =>
  impulses(seconds * RATE, ...at.map((s) => s * RATE))[0];

it('sounds the same from any of its moments on: repeated, opened, turned over, placed and given way', async () => {
  const written = {
    parts: [
      part('intro', { pan: -0.4, fadeInSeconds: 0.3 }),
      part('body', { begins: { after: 'intro', gapSeconds: -0.25 } }),
      part('spot', { begins: { into: 'body', mark: 'break' } }),
      part('late', { begins: { into: 'body', mark: 'late' }, gainDb: -3 }),
      part('bed', {
        begins: { with: 'body', offsetSeconds: 0.2 },
        lasts: { untilEndOf: 'body', offsetSeconds: -0.1, loop: true },
        fadeOutSeconds: 0.5,
      }),
    ],
  };
  const sounds = {
    intro: { block: [noise(0.1, 1, RATE, 1)] },
    body: {
      block: [noise(0.1, 3, RATE, 2), noise(0.1, 3, RATE, 3)],
      marks: [
        { name: 'break', startSeconds: 1, endSeconds: 1 },
        { name: 'late', startSeconds: 2.2, endSeconds: 2.2 },
      ],
    },
    spot: { block: [noise(0.1, 0.7, RATE, 4)] },
    late: { block: [noise(0.1, 0.4, RATE, 5)] },
    bed: { block: [noise(0.1, 0.8, RATE, 6)] },
  };
  const { prepared, resolved } = await mixed(written, sounds);
  const format = { sampleRateHz: RATE, channels: 2 };
  const line = givingWayLine([{ startSeconds: 1.1, endSeconds: 2.3 }], {
    byDb: 12,
    leadSeconds: 0.4,
    holdSeconds: 0.2,
    releaseSeconds: 0.5,
  });
  const heardFrom = async (from: number) => {
    const tracks = resolved.parts
      .filter(({ end }) => end > from)
      .map((placed) => partTrack(placed, soundOf(prepared.get(placed.part.id)!.sound), 0, format, from));
    const sum = summed([groupTrack(summed(tracks, format), -1, [line], format, from)], format);
    const heard = new MemorySpool(format);
    for await (const block of sum.blocks()) heard.write(block);
    return heard.joined();
  };
  const whole = await heardFrom(0);
  expect(whole[0]).toHaveLength(resolved.frames);
  await fc.assert(
    fc.asyncProperty(fc.nat(resolved.frames - 1), async (from) => {
      const heard = await heardFrom(from);
      expect(heard[0]).toHaveLength(resolved.frames - from);
      const most = heard.map((channel, c) =>
        channel.reduce((max, x, i) => Math.max(max, Math.abs(x - whole[c][from + i])), 0),
      );
      expect(Math.max(...most)).toBeLessThan(1e-6);
    }),
    { numRuns: 60 },
  );
});
