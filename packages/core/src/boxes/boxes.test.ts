import { runChain } from '../chain/run.ts';
import { cut, MemorySignal } from '../signal/memory.ts';
import { joined, levelDb, memorySurroundings, mixed, noise, sine } from '../testing/index.ts';
import { BoxProcessor, boxTransformSize } from './box-processor.ts';
import { boxSteps } from './box-step.ts';
import type { SpectralBox } from './spectral-box.ts';

const box = (change: Partial<SpectralBox> = {}): SpectralBox => ({
  startSeconds: 1,
  endSeconds: 2,
  lowHz: 800,
  highHz: 1200,
  gainDb: -20,
  ...change,
});

async function boxed(input: Float32Array, sampleRateHz: number, boxes: SpectralBox[]): Promise<Float32Array> {
  const format = { sampleRateHz, channels: 1 };
  const out = new MemorySignal(format);
  await runChain(boxSteps(boxes), new MemorySignal(format, [...cut([input], 1000)]), () => out, memorySurroundings);
  return out.joined()[0];
}

describe.each([16000, 44100, 96000])('boxes at %d Hz', (rate) => {
  const at = (seconds: number) => Math.round(seconds * rate);

  it('turn what lies inside down by as many dB as they say', async () => {
    const out = await boxed(sine(1000, 0.5, 3, rate), rate, [box()]);
    const inside = out.subarray(at(1.1), at(1.9));
    expect(Math.abs(levelDb(inside) - (20 * Math.log10(0.5) - 3.01 - 20))).toBeLessThan(0.3);
  });

  it('leave other frequencies alone', async () => {
    const input = sine(3000, 0.5, 3, rate);
    const out = await boxed(input, rate, [box()]);
    const difference = out.map((x, i) => x - input[i]);
    expect(levelDb(difference)).toBeLessThan(-55);
  });

  it('change no sample further from them than their transform reaches', async () => {
    const input = noise(0.3, 3, rate);
    const out = await boxed(input, rate, [box()]);
    const reach = boxTransformSize(rate);
    expect(out.length).toBe(input.length);
    const changed = [...out.keys()].filter((i) => out[i] !== input[i]);
    expect(changed.length).toBeGreaterThan(0.9 * rate);
    expect(changed[0]).toBeGreaterThan(at(1) - reach);
    expect(changed.at(-1)).toBeLessThan(at(2) + reach);
  });
});

it('add up where they overlap', async () => {
  const twice = [box({ gainDb: -6 }), box({ gainDb: -9, lowHz: 500 })];
  const out = await boxed(sine(1000, 0.5, 3, 48000), 48000, twice);
  expect(Math.abs(levelDb(out.subarray(57_600, 86_400)) - (-9.03 - 15))).toBeLessThan(0.3);
});

it('give the same from the middle of a file as from its start', () => {
  const rate = 48000;
  const input = mixed(sine(1000, 0.3, 3, rate), noise(0.1, 3, rate));
  const size = boxTransformSize(rate);
  const run = (from: number) => {
    const samples = joined(input.subarray(from), new Float32Array(size));
    new BoxProcessor([box()], { sampleRateHz: rate, channels: 1 }, from).process([samples]);
    return samples.subarray(size);
  };
  const from = 16 * size;
  // the first transform from there that is whole ends one size later
  const [late, early] = [run(from), run(0)];
  let largest = 0;
  for (let i = from + size; i < 3 * rate; i++) largest = Math.max(largest, Math.abs(late[i - from] - early[i]));
  expect(largest).toBe(0);
});

it('need no step where there are none', () => {
  expect(boxSteps([])).toEqual([]);
});

it('S14: lie where they lay in a stretch that is heard by itself', async () => {
  const rate = 16000;
  const format = { sampleRateHz: rate, channels: 1 };
  const input = sine(1000, 0.5, 6, rate);
  const boxes = [
    box({ startSeconds: 0.5, endSeconds: 1 }),
    box({ startSeconds: 1.5, endSeconds: 2.5 }),
    box({ startSeconds: 4, endSeconds: 5 }),
  ];
  const out = new MemorySignal(format);
  const part = new MemorySignal(format, [...cut([input.subarray(2 * rate)], 1000)]);
  await runChain(boxSteps(boxes, 2), part, () => out, memorySurroundings);
  const level = (from: number, to: number) => levelDb(out.joined()[0].subarray(from * rate, to * rate));
  const whole = 20 * Math.log10(0.5) - 3.01;
  for (const [from, to, by] of [
    [0.05, 0.4, 20],
    [0.7, 1.9, 0],
    [2.1, 2.9, 20],
    [3.2, 3.9, 0],
  ])
    expect(Math.abs(level(from, to) - (whole - by))).toBeLessThan(0.5);
});
