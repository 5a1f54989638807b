import { type Block, type CutSource, cutSource, cutsInOrder, MemorySignal, timeCuts } from '@tonos/core';
import { babble, mixed, noise } from '@tonos/core/testing';
import { cutFrames } from './cut-frames.ts';
import type { CutTrack, Track } from './messages.ts';
import { SampleReader } from './sample-reader.ts';

const RATE = 16_000;
const voice = mixed(babble(30, RATE), noise(0.001, 30, RATE));
const again = mixed(babble(10, RATE, 3), noise(0.001, 10, RATE, 2)).map((x) => 0.4 * x);
const files: Record<string, Float32Array> = { '/voice': voice, '/again': again };

function setup(cuts: object[]) {
  const asked: number[] = [];
  const reader = new SampleReader(async ({ url }, from, frames) => {
    if (url === '/voice') asked.push(from);
    return [files[url].slice(from, from + frames)];
  });
  const trackOf = (url: string): Track => ({
    url,
    sampleRateHz: RATE,
    channels: 1,
    frames: files[url].length,
    boxes: [],
  });
  const cut: CutTrack = {
    cuts: cutsInOrder(timeCuts.parse(cuts)),
    roomTone: [
      { startSeconds: 3.2, endSeconds: 3.8 },
      { startSeconds: 19.2, endSeconds: 19.8 },
    ],
    pickUps: { again: trackOf('/again') },
  };
  return { reader, track: { ...trackOf('/voice'), cut }, asked };
}

async function heard({ reader, track }: ReturnType<typeof setup>, fromSeconds = 0, toSeconds = 30) {
  const blocks: Block[] = [];
  const places: [made: number, frame: number][] = [];
  let made = 0;
  for await (const block of cutFrames(reader, track, fromSeconds * RATE, toSeconds * RATE, (frame) =>
    places.push([made, frame]),
  )) {
    blocks.push(block);
    made += block[0].length;
  }
  return { samples: new MemorySignal(track, blocks).joined()[0], places };
}

async function rendered(cuts: object[]): Promise<Float32Array> {
  const source = new MemorySignal({ sampleRateHz: RATE, channels: 1 }, [[voice]]);
  const made: CutSource = await cutSource(source, timeCuts.parse(cuts), {
    name: 'voice',
    openPickUp: async () => ({
      source: new MemorySignal({ sampleRateHz: RATE, channels: 1 }, [[again]]),
      close: async () => {},
    }),
  });
  const sink = new MemorySignal(source.format);
  for await (const block of made.source.blocks()) sink.write(block);
  return sink.joined()[0];
}

const takeOut = { kind: 'take-out', startSeconds: 7.1, endSeconds: 15.4 };

it('plays what a render makes, to the sample, and does not fetch what is taken out', async () => {
  const set = setup([takeOut]);
  const { samples, places } = await heard(set);
  expect(samples).toEqual(await rendered([takeOut]));
  expect(set.asked.every((from) => from < 7.2 * RATE || from > 14.2 * RATE)).toBe(true);
  // the place moves on with the sound
  expect(places).toHaveLength(1);
  expect(places[0][1] - places[0][0]).toBeCloseTo((15.4 - 7.1) * RATE, -3);
});

it('begins wherever it is asked to: behind a cut, and inside of one', async () => {
  const set = setup([takeOut]);
  expect((await heard(set, 16)).samples).toEqual(voice.slice(16 * RATE));
  const inside = await heard(set, 10);
  expect(inside.samples.length).toBe((30 - 15.4) * RATE);
  expect(inside.samples.slice(RATE)).toEqual(voice.slice(16.4 * RATE));
  expect((await heard(set, 5, 6)).samples).toEqual(voice.slice(5 * RATE, 6 * RATE));
});

it('has room tone where something is covered or a pause is opened', async () => {
  const { samples, places } = await heard(
    setup([
      { kind: 'room-tone', startSeconds: 5, endSeconds: 6 },
      { kind: 'pause', atSeconds: 10, lengthSeconds: 2 },
    ]),
  );
  expect(samples.length).toBe(32 * RATE);
  const levelDb = (from: number, to: number) => {
    const part = samples.subarray(from * RATE, to * RATE);
    return 10 * Math.log10(part.reduce((sum, x) => sum + x * x, 0) / part.length);
  };
  for (const [from, to] of [
    [5.1, 5.9],
    [10.1, 11.9],
  ])
    expect(Math.abs(levelDb(from, to) + 60)).toBeLessThan(1.5);
  // while a pause sounds, the place stands
  const inPause = places.filter(([made]) => made > 10.1 * RATE && made < 11.9 * RATE);
  for (const [, frame] of inPause) expect(Math.abs(frame - 10 * RATE)).toBeLessThan(2);
  expect(inPause.length).toBeGreaterThan(0);
});

it('lays a pick-up in, matched as a render matches it, or as it was read', async () => {
  const pickUp = {
    kind: 'pick-up',
    startSeconds: 17,
    endSeconds: 18.8,
    recordingId: 'again',
    fromSeconds: 1,
    toSeconds: 3,
  };
  const bare = { matchLevel: false, matchTone: false, matchRoom: false };
  const plain = (await heard(setup([{ ...pickUp, ...bare }]))).samples;
  expect(plain).toEqual(await rendered([{ ...pickUp, ...bare }]));
  const voiced = { ...pickUp, matchRoom: false };
  const made = (await heard(setup([voiced]))).samples;
  const wanted = await rendered([voiced]);
  expect(made.length).toBe(wanted.length);
  expect(made.reduce((most, x, i) => Math.max(most, Math.abs(x - wanted[i])), 0)).toBeLessThan(1e-4);
  const gone = { ...pickUp, recordingId: 'nowhere' };
  expect((await heard(setup([gone]))).samples.length).toBe(plain.length);
});
