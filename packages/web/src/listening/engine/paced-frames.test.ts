import { type Block, cut, emptyBlock, framesOf } from '@tonos/core';
import { sine } from '@tonos/core/testing';
import { Feeder } from './feeder.ts';
import { LiveFrames, stepsOf } from './live-frames.ts';
import type { FromFeeder, LiveSteps } from './messages.ts';
import { PacedFrames, pacedSteps } from './paced-frames.ts';
import type { Readable } from './readable.ts';
import { ringMemory, SharedRing } from './shared-ring.ts';

const RATE = 48000;
const SECONDS = 8;
const tone = sine(440, 0.5, SECONDS, RATE);
const format = { sampleRateHz: RATE, channels: 1 };
const sound: Readable = {
  format,
  frames: tone.length,
  async *blocks(from, to) {
    for (const block of cut([tone.subarray(from, Math.max(from, to))], 4096))
      yield block.map((channel) => channel.slice());
  },
};

const step = (id: string, kind: string, settings: Record<string, unknown>) => ({
  id,
  kind,
  on: true,
  mix: 1,
  settings,
});
const pace = (settings: Record<string, unknown>) => step('p', 'pace', settings);
const live = (...steps: LiveSteps['steps']): LiveSteps => ({
  steps,
  findings: { p: { frames: tone.length } },
  findingsFromSeconds: 0,
  known: { marks: [] },
  removed: false,
});

async function heard(steps: LiveSteps, from: number, to = tone.length): Promise<Float32Array> {
  const frames = new PacedFrames(sound, pacedSteps(steps, format)!, from);
  const blocks: Block[] = [];
  for await (const block of frames.blocks(to)) blocks.push(block.map((channel) => channel.slice()));
  const all = emptyBlock(
    1,
    blocks.reduce((sum, block) => sum + framesOf(block), 0),
  )[0];
  let at = 0;
  for (const [channel] of blocks) {
    all.set(channel, at);
    at += channel.length;
  }
  return all;
}

/** Of the middle, where nothing begins or ends. */
function hertz(samples: Float32Array): number {
  const middle = samples.subarray(4800, samples.length - 4800);
  let crossings = 0;
  for (let i = 1; i < middle.length; i++) if (middle[i - 1] < 0 && middle[i] >= 0) crossings++;
  return crossings / (middle.length / RATE);
}
const peak = (samples: Float32Array) =>
  samples.subarray(4800, samples.length - 4800).reduce((most, x) => Math.max(most, Math.abs(x)), 0);

it.each([
  [200, 0, 440],
  [80, 0, 440],
  [100, 12, 880],
  [125, -12, 220],
])('at %d %% and %d semitones: as long, and as high, as it is said', async (tempoPercent, pitchSemitones, wanted) => {
  const samples = await heard(live(pace({ tempoPercent, pitchSemitones, keepFormants: false })), 2 * RATE);
  expect(samples.length).toBe(Math.round((6 * RATE * 100) / tempoPercent));
  expect(hertz(samples)).toBeCloseTo(wanted, -0.5);
});

it('fits into a length by the length of the whole, wherever it is heard from', async () => {
  const samples = await heard(live(pace({ fitSeconds: 4 })), 6 * RATE);
  expect(samples.length).toBe(RATE);
});

it('goes through the steps before it and behind it, and takes their settings while it sounds', async () => {
  const gains = (before: number, after: number) =>
    live(step('a', 'gain', { gainDb: before }), pace({ tempoPercent: 150 }), step('b', 'gain', { gainDb: after }));
  const samples = await heard(gains(-6, -3), RATE, 4 * RATE);
  expect(samples.length).toBe(2 * RATE);
  expect(20 * Math.log10(peak(samples) / 0.5)).toBeCloseTo(-9, 0);
  const frames = new PacedFrames(sound, pacedSteps(gains(0, 0), format)!, 0);
  expect([frames.update(gains(-2, -2)), frames.update(live(pace({ tempoPercent: 150 })))]).toEqual([true, false]);
  expect(
    frames.update(live(...gains(0, 0).steps.map((one) => (one.id === 'p' ? pace({ tempoPercent: 90 }) : one)))),
  ).toBe(false);
});

it('at the end of a recording its room sounds on, and nowhere else', async () => {
  const room = step('r', 'reverb', { decaySeconds: 0.5, wetDb: -6, tailSeconds: 1 });
  const length = async (steps: LiveSteps, to: number, soundsOn: boolean) => {
    const from = 6 * RATE;
    const paced = pacedSteps(steps, format);
    const frames = paced ? new PacedFrames(sound, paced, from) : new LiveFrames(sound, steps, from);
    let made = 0;
    for await (const block of frames.blocks(to, soundsOn)) made += framesOf(block);
    return made / RATE;
  };
  const all = tone.length;
  expect(await length(live(room), all, true)).toBeCloseTo(3, 3);
  expect(await length(live(room), all, false)).toBeCloseTo(2, 3);
  expect(await length(live(room), all - RATE, true)).toBeCloseTo(1, 3);
  expect(await length(live(pace({ tempoPercent: 200 }), room), all, true)).toBeCloseTo(2, 3);
});

it('is none where nothing is other: as it is, kept to marks, not studied yet, or what it takes away', () => {
  const own = pace({ tempoPercent: 120 });
  expect(pacedSteps(live(own), format)).toBeDefined();
  expect(pacedSteps(live(pace({})), format)).toBeUndefined();
  expect(pacedSteps(live({ ...own, scope: { marks: ['Here'], crossfadeMs: 20 } }), format)).toBeUndefined();
  expect(pacedSteps({ ...live(own), findings: {} }, format)).toBeUndefined();
  expect(pacedSteps({ ...live(own), removed: true }, format)).toBeUndefined();
  expect(stepsOf({ steps: [own] })).toHaveLength(1);
});

it('the clock goes with the recording: its seconds in one are told, also when the pace changes while it sounds', async () => {
  const ring = new SharedRing(ringMemory());
  ring.playing = true;
  const said: FromFeeder[] = [];
  const track = { url: '/t', ...format, frames: tone.length, boxes: [] };
  const fetchBlock = async (_: unknown, from: number, frames: number) => [tone.slice(from, from + frames)];
  const feeder = new Feeder({ ring, rateHz: RATE, fetchBlock, say: (message) => said.push(message) });
  void feeder.go(1, {
    track: { ...track, live: live(pace({ tempoPercent: 200 })) },
    seconds: 1,
    loop: null,
    gainDb: 0,
  });
  const listen = async (quanta: number) => {
    for (let q = 0; q < quanta; q++) {
      for (let tries = 0; tries < 500 && !ring.jumpPending && ring.ahead < 128; tries++)
        await new Promise((resolve) => setTimeout(resolve, 1));
      ring.readQuantum(new Float32Array(128), new Float32Array(128), true);
    }
  };
  const places = () => said.flatMap((one) => (one.type === 'place' ? [one] : []));
  await listen(375);
  expect(places()).toMatchObject([{ seconds: 1, speed: 2 }]);
  feeder.change({ ...track, live: live(pace({})) }, 0);
  await listen(375);
  const [first, second] = places();
  expect(second.speed).toBe(1);
  // where it went on from is where it was by then
  expect(second.seconds).toBeCloseTo(first.seconds + (2 * (second.frame - first.frame)) / RATE, 2);
  await feeder.snippet(2, track, 0, 0);
});
