import { ActivityMeter } from '../measure/activity/activity.ts';
import { cut, MemorySignal } from '../signal/memory.ts';
import type { Block } from '../signal/signal.ts';
import { babble, joined, levelDb, mixed, noise } from '../testing/index.ts';
import { roomToneFill } from '../time/room-tone-fill.ts';
import { fitEnds } from './ends.ts';
import { SHIPPED_TARGETS } from './shipped-targets.ts';

const RATE = 24000;
const AUDIOBOOK = SHIPPED_TARGETS.find(({ name }) => name === 'Audiobook, RMS window')!;

/** Speech with so much room at its ends; `babble` brings a second of its own on either side. */
const voice = (head: number, tail: number): Float32Array => {
  const spoken = babble(8, RATE).subarray(RATE, 7 * RATE);
  const dry = joined(new Float32Array(head * RATE), spoken, new Float32Array(tail * RATE));
  return mixed(dry, noise(0.0006, dry.length / RATE, RATE, 3));
};

async function fitted(block: Block, blockFrames = 4096) {
  const source = new MemorySignal({ sampleRateHz: RATE, channels: block.length }, [...cut(block, blockFrames)]);
  const { source: ended, note } = await fitEnds(source, AUDIOBOOK);
  const out = new MemorySignal(source.format);
  for await (const one of ended.blocks()) out.write(one);
  return { output: out.joined(), note };
}

function endsOf(block: Block): { head: number; tail: number } {
  const meter = new ActivityMeter({ sampleRateHz: RATE, channels: block.length });
  meter.hear(block);
  const { speech } = meter.conclude();
  return { head: speech[0].startSeconds, tail: block[0].length / RATE - speech.at(-1)!.endSeconds };
}

it.each([
  ['too short', 0.1, 0.2],
  ['too long', 4, 9],
  ['missing', 0, 0],
  ['one of each', 3, 0.3],
])('brings ends that are %s into their windows', async (_, head, tail) => {
  const input = voice(head, tail);
  const { output, note } = await fitted([input]);
  const ends = endsOf(output);
  expect(ends.head).toBeGreaterThanOrEqual(0.5);
  expect(ends.head).toBeLessThanOrEqual(1);
  expect(ends.tail).toBeGreaterThanOrEqual(1);
  expect(ends.tail).toBeLessThanOrEqual(5);
  expect(output[0].length / RATE).toBeCloseTo(input.length / RATE + note!.headSeconds + note!.tailSeconds, 3);
});

it('leaves ends that fit alone, to the sample', async () => {
  const input = voice(0.75, 2);
  const { output, note } = await fitted([input]);
  expect(note).toBeUndefined();
  expect(output[0].every((x, i) => x === input[i])).toBe(true);
});

it('moves the speech as it is, on every channel, however blocks are cut', async () => {
  const input = voice(0.2, 0.3);
  const block = [input, input.map((x) => -0.5 * x)];
  const [small, large] = [await fitted(block, 777), await fitted(block, 50_000)];
  expect(small.output[0].every((x, i) => x === large.output[0][i])).toBe(true);
  const shift = Math.round(small.note!.headSeconds * RATE);
  for (let i = RATE; i < 5 * RATE; i += 101) {
    expect(small.output[0][i + shift]).toBe(block[0][i]);
    expect(small.output[1][i + shift]).toBe(block[1][i]);
  }
});

it('fills with the room\u2019s own level, without a seam', async () => {
  const { output, note } = await fitted([voice(0.3, 0.4)]);
  expect(note!.filledWith).toBe('room tone');
  const room = 20 * Math.log10(0.0006);
  const tail = output[0].subarray(output[0].length - Math.round(note!.tailSeconds * RATE));
  expect(Math.abs(levelDb(tail) - room)).toBeLessThan(1);
  // no piece of 20 ms round the seam stands out by more than chance lets it
  const seam = output[0].length - tail.length;
  for (let at = seam - 0.1 * RATE; at < seam + 0.1 * RATE; at += 0.02 * RATE)
    expect(Math.abs(levelDb(output[0].subarray(at, at + 0.02 * RATE)) - room)).toBeLessThan(2.5);
});

it('says so where it has only silence to fill with, and leaves what holds no speech', async () => {
  const dry = babble(6, RATE).subarray(RATE, 5 * RATE);
  expect((await fitted([dry])).note!.filledWith).toBe('silence');
  expect((await fitted([noise(0.01, 3, RATE)])).note).toBeUndefined();
});

it('makes room tone in which nothing comes round again', () => {
  const tone = noise(0.01, 2, RATE, 5);
  const [fill] = roomToneFill([[tone]], 20 * RATE, 1, RATE);
  expect(Math.abs(levelDb(fill) + 40)).toBeLessThan(0.5);
  // the likeness with itself, later, stays small at every lag from 0.3 to 5 s
  const likeness = (lag: number) => {
    let sum = 0;
    for (let i = 0; i < 14 * RATE; i += 2) sum += fill[i] * fill[i + lag];
    return (2 * sum) / (14 * RATE * 1e-4);
  };
  let most = 0;
  for (let lag = 0.3 * RATE; lag < 5 * RATE; lag += 131) most = Math.max(most, Math.abs(likeness(lag)));
  expect(most).toBeLessThan(0.2);
});

it('S17: of a long recording only what lies at its ends is heard again', async () => {
  const spoken = joined(...Array.from({ length: 30 }, () => babble(8, RATE).subarray(RATE, 7 * RATE)));
  const input = mixed(joined(new Float32Array(0.1 * RATE), spoken), noise(0.0006, 0.1 + spoken.length / RATE, RATE, 3));
  const { hear } = ActivityMeter.prototype;
  let frames = 0;
  ActivityMeter.prototype.hear = function (block) {
    frames += block[0].length;
    hear.call(this, block);
  };
  const { output } = await fitted([input]);
  ActivityMeter.prototype.hear = hear;
  // the whole once, and a minute and a little at either end
  expect(frames).toBeLessThan(input.length + 125 * RATE);
  const ends = endsOf(output);
  expect(ends.head).toBeGreaterThanOrEqual(0.5);
  expect(ends.head).toBeLessThanOrEqual(1);
  expect(ends.tail).toBeGreaterThanOrEqual(1);
  expect(ends.tail).toBeLessThanOrEqual(5);
});
