import { type Block, framesOf, MemorySpool } from '@tonos/core';
import { noise, sine } from '@tonos/core/testing';
import { Feeder } from './feeder.ts';
import type { FileTrack, FromFeeder, LiveGroup, LivePart, LiveProgramme, Track } from './messages.ts';
import { programmeSound } from './programme-sound.ts';
import { SampleReader } from './sample-reader.ts';
import { ringMemory, SharedRing } from './shared-ring.ts';

const RATE = 48_000;
const files: Record<string, Float32Array> = {
  '/voice': noise(0.1, 6, RATE, 1),
  '/music': noise(0.1, 6, RATE, 2),
  '/old': sine(1000, 0.25, 4, 44_100),
};
const fetched = async ({ url }: FileTrack, from: number, frames: number): Promise<Block> => [
  files[url].slice(from, from + frames),
];

const fileTrack = (url: string, sampleRateHz = RATE): FileTrack => ({
  url,
  sampleRateHz,
  channels: 1,
  frames: files[url].length,
  boxes: [],
});

function part(url: string, start: number, rest: Partial<LivePart> = {}, sampleRateHz = RATE): LivePart {
  const track = fileTrack(url, sampleRateHz);
  const seconds = track.frames / sampleRateHz;
  const ownFrames = Math.round(seconds * RATE);
  return {
    track,
    map: [
      [0, 0],
      [seconds, seconds],
    ],
    fromSeconds: 0,
    placed: {
      part: { gainDb: 0, pan: -1 },
      start,
      end: start + ownFrames,
      ownFrames,
      openings: [],
      fadeIn: { frames: 0, shape: 'linear' },
      fadeOut: { frames: 0, shape: 'linear' },
    },
    levelDb: 0,
    ...rest,
  };
}

const group = (parts: LivePart[], rest: Partial<LiveGroup> = {}): LiveGroup => ({
  parts,
  gainDb: 0,
  lines: [],
  ...rest,
});

const programmeTrack = (programme: LiveProgramme, seconds = 10): Track => ({
  url: 'order',
  sampleRateHz: RATE,
  channels: 2,
  frames: seconds * RATE,
  boxes: [],
  programme,
});

async function heard(programme: LiveProgramme, fromSeconds: number, toSeconds: number): Promise<Float32Array> {
  const track = programmeTrack(programme);
  const sound = programmeSound(new SampleReader(fetched), programme, track);
  const spool = new MemorySpool({ sampleRateHz: RATE, channels: 2 });
  for await (const block of sound.blocks(fromSeconds * RATE, toSeconds * RATE)) spool.write(block);
  return spool.joined()[0];
}

it('is the sum of what sounds there, from any moment on, and silent where nothing does', async () => {
  const programme = { groups: [group([part('/voice', RATE)]), group([part('/music', 3 * RATE)], { gainDb: -6 })] };
  const sound = await heard(programme, 0.5, 10);
  expect(sound).toHaveLength(9.5 * RATE);
  const gain = 10 ** (-6 / 20);
  for (const at of [0.6, 1.2, 3.7, 6.9, 8.5, 9.5]) {
    const frame = Math.round(at * RATE);
    const wanted = (files['/voice'][frame - RATE] ?? 0) + gain * (files['/music'][frame - 3 * RATE] ?? 0);
    expect(sound[frame - 0.5 * RATE]).toBeCloseTo(wanted, 6);
  }
  expect(await heard(programme, 5, 6)).toEqual(sound.slice(4.5 * RATE, 5.5 * RATE));
});

it('has recordings of another rate in their place, and stretches where their cuts have brought them', async () => {
  const old = await heard({ groups: [group([part('/old', RATE, {}, 44_100)])] }, 0, 6);
  // 1 kHz has 48 frames a period, whatever the file's rate
  for (const frame of [RATE + 480 + 12, 3 * RATE + 12]) expect(old[frame]).toBeCloseTo(0.25, 3);
  const cuts = [{ kind: 'take-out' as const, startSeconds: 1, endSeconds: 3, on: true }];
  const track = { ...fileTrack('/voice'), cut: { cuts, roomTone: [], pickUps: {} } };
  const map: LivePart['map'] = [
    [0, 0],
    [1, 1],
    [3, 1],
    [6, 4],
  ];
  const cut = await heard({ groups: [group([part('/voice', 0, { track, map, fromSeconds: 2 })])] }, 0, 1);
  expect(cut[100]).toBeCloseTo(files['/voice'][4 * RATE + 100], 6);
});

it('goes through the chains of parts, of groups and of the whole, and down along the lines of its groups', async () => {
  const gain = (gainDb: number) => ({
    steps: [{ id: 'g', kind: 'gain', on: true, mix: 1, settings: { gainDb } }],
    findings: {},
    findingsFromSeconds: 0,
    known: { marks: [] },
    removed: false,
  });
  const voice = part('/voice', 0, { live: gain(-1) });
  const lines: LiveGroup['lines'] = [
    [
      [1, 0],
      [2, -12],
    ],
  ];
  const sound = await heard({ groups: [group([voice], { live: gain(-2), lines })], live: gain(-3) }, 1.25, 4);
  for (const [at, db] of [
    [1.5, -6 - 6],
    [3, -6 - 12],
  ]) {
    const frame = at * RATE;
    expect(sound[frame - 1.25 * RATE]).toBeCloseTo(10 ** (db / 20) * files['/voice'][frame], 5);
  }
});

it('fetches what sounds at once, at its place, and nothing of what is over', async () => {
  const asked: [url: string, from: number][] = [];
  const silent = async (track: FileTrack, from: number, frames: number): Promise<Block> => {
    asked.push([track.url, from]);
    await new Promise((resolve) => setTimeout(resolve, 5));
    return fetched(track, from, frames);
  };
  const over = part('/old', 0);
  const opened = part('/voice', 0);
  opened.placed = { ...opened.placed, end: 8 * RATE, openings: [{ at: RATE, frames: 2 * RATE, part: 'x' }] };
  const programme = { groups: [group([over, opened, part('/music', 5 * RATE)])] };
  const sound = programmeSound(new SampleReader(silent), programme, programmeTrack(programme));
  const blocks = sound.blocks(6 * RATE, 7 * RATE)[Symbol.asyncIterator]();
  const first = blocks.next();
  // two seconds of it are another part: its own fourth second, and the other's first
  const chunk = 16_384;
  expect(asked.map(([url, from]) => [url, from / chunk]).slice(0, 4)).toEqual(
    expect.arrayContaining([
      ['/voice', Math.floor((4 * RATE) / chunk)],
      ['/music', Math.floor(RATE / chunk)],
    ]),
  );
  await first;
  expect(asked.every(([url]) => url !== '/old')).toBe(true);
  await blocks.return?.();
});

it('an opened part has its room on either side of what plays there', async () => {
  files['/room'] = noise(0.01, 4, RATE, 5);
  const opened = part('/room', 0);
  opened.placed = { ...opened.placed, end: 8 * RATE, openings: [{ at: 2 * RATE, frames: 4 * RATE, part: 'x' }] };
  opened.track = {
    ...opened.track,
    cut: { cuts: [], roomTone: [{ startSeconds: 0.5, endSeconds: 1.5 }], pickUps: {} },
  };
  const sound = await heard({ groups: [group([opened])] }, 0, 8);
  const rms = (from: number, to: number) =>
    Math.sqrt(sound.subarray(from * RATE, to * RATE).reduce((sum, x) => sum + x * x, 0) / ((to - from) * RATE));
  expect(rms(3, 5)).toBe(0);
  // going, and coming back, over half a second
  for (const [from, to] of [
    [2.05, 2.2],
    [5.8, 5.95],
  ])
    expect(20 * Math.log10(rms(from, to) / rms(0.5, 1.5))).toBeGreaterThan(-6);
});

it('is heard changed within 150 ms, without a gap', async () => {
  const ring = new SharedRing(ringMemory());
  ring.playing = true;
  const said: FromFeeder[] = [];
  const fetchBlock = async (_: FileTrack, __: number, frames: number) => [new Float32Array(frames).fill(0.5)];
  const feeder = new Feeder({ ring, rateHz: RATE, fetchBlock, say: (message) => said.push(message) });
  const sound = (gainDb: number) => programmeTrack({ groups: [group([part('/voice', 0)], { gainDb })] });
  void feeder.go(1, { track: sound(0), seconds: 1, loop: null, gainDb: 0 });
  const ear: number[] = [];
  let sounding = false;
  const listen = async (frames: number) => {
    const until = ear.length + frames;
    while (ear.length < until) {
      if (ring.ahead < 128) await new Promise((resolve) => setTimeout(resolve, 1));
      else {
        const quantum = [new Float32Array(128), new Float32Array(128)] as const;
        sounding = ring.readQuantum(...quantum, sounding);
        ear.push(...quantum[0]);
      }
    }
  };
  await listen(0.5 * RATE);
  expect(ear.at(-1)).toBeCloseTo(0.5, 6);
  feeder.change(sound(-12), 0);
  const at = ear.length;
  await listen(0.4 * RATE);
  const after = ear.slice(at);
  const quiet = 0.5 * 10 ** (-12 / 20);
  expect(after.findIndex((x) => Math.abs(x - quiet) < 1e-4)).toBeLessThan(0.15 * RATE);
  expect(Math.min(...after)).toBeGreaterThan(quiet - 1e-4);
  expect(said.every(({ type }) => type !== 'trouble')).toBe(true);
  // one that ends by itself takes its place
  await feeder.snippet(2, sound(0), 0, 0);
});

it('tells which sound can’t be had, and sounds on to its end where a programme got shorter', async () => {
  const gone = new SampleReader(() => Promise.reject(new Error('It is gone.')));
  const programme = { groups: [group([part('/voice', 0)])] };
  const blocks = programmeSound(gone, programme, programmeTrack(programme)).blocks(0, 100);
  await expect(blocks[Symbol.asyncIterator]().next()).rejects.toThrow('It is gone.');
  const short = programmeSound(new SampleReader(fetched), programme, programmeTrack(programme, 1));
  let frames = 0;
  for await (const block of short.blocks(2 * RATE, RATE)) frames += framesOf(block);
  expect(frames).toBe(0);
});
