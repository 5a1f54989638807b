import { babble, joined, levelDb, mixed, noise, processBlock, sine } from '../testing/index.ts';
import { gainReductionDb } from './compressor/gain-computer.ts';
import { stepOfKind } from './index.ts';

const RATE = 48000;
const through = async (kind: string, settings: Record<string, unknown>, input: Float32Array, rate = RATE) =>
  (await processBlock([{ kind, settings }], [input], rate)).output[0];

describe('compressor', () => {
  it('turns a -10 dBFS sine down by 5.33 dB at threshold -18 dB, ratio 3:1, hard knee', async () => {
    const input = sine(1000, 10 ** (-10 / 20), 2, RATE);
    const output = await through('compressor', { thresholdDb: -18, ratio: 3, kneeDb: 0, detector: 'peak' }, input);
    expect(levelDb(output.subarray(RATE)) - levelDb(input.subarray(RATE))).toBeCloseTo(-16 / 3, 1);
  });

  it.each([-30, -20, -12, -6, 0])('follows its static curve by RMS at a sine of %d dBFS', async (db) => {
    const settings = { thresholdDb: -24, ratio: 4, kneeDb: 8, detector: 'rms' };
    const input = sine(1000, 10 ** (db / 20), 2, RATE);
    const output = await through('compressor', settings, input);
    // a sine's RMS lies 3.01 dB under its peak
    const wanted = -gainReductionDb(db - 3.0103, -24, 4, 8);
    expect(Math.abs(levelDb(output.subarray(RATE)) - levelDb(input.subarray(RATE)) - wanted)).toBeLessThan(0.1);
  });

  it.each([
    ['rms', 10, 120],
    ['peak', 10, 120],
    ['rms', 40, 400],
    ['peak', 5, 60],
  ])('goes 63 %% of the way in its attack and release (%s, %d/%d ms)', async (detector, attackMs, releaseMs) => {
    const settings = { thresholdDb: -30, ratio: 4, kneeDb: 0, attackMs, releaseMs, detector };
    const [quiet, loud] = [sine(2000, 0.01, 1, RATE), sine(2000, 0.5, 2, RATE)];
    const input = joined(quiet, loud, sine(2000, 0.01, 2, RATE));
    const output = await through('compressor', settings, input);
    const gainDb = (frame: number) => {
      const around = (x: Float32Array) => levelDb(x.subarray(frame, frame + 24)); // one period
      return around(output) - around(input);
    };
    const full = gainDb(3 * RATE - 4800);
    const crossing = (from: number, level: number, falling: boolean) => {
      let frame = from;
      while (falling ? gainDb(frame) > level : gainDb(frame) < level) frame += 12;
      return ((frame - from) / RATE) * 1000;
    };
    expect(crossing(RATE, 0.632 * full, true)).toBeGreaterThan(attackMs * 0.85 - 0.6);
    expect(crossing(RATE, 0.632 * full, true)).toBeLessThan(attackMs * 1.15 + 0.6);
    const released = crossing(3 * RATE, 0.368 * full, false);
    expect(released).toBeGreaterThan(releaseMs * 0.92);
    expect(released).toBeLessThan(releaseMs * 1.08);
  });

  it('links channels: a quiet side is turned down with the loud one', async () => {
    const { output } = await processBlock(
      [{ kind: 'compressor', settings: { thresholdDb: -20, detector: 'peak' } }],
      [sine(500, 0.9, 1, RATE), sine(500, 0.01, 1, RATE)],
      RATE,
    );
    expect(output[0][40000] / output[1][40000]).toBeCloseTo(90, 3);
  });
});

/** An independent 8x reading: a Hann-windowed sinc of 80 samples, computed directly. */
const HALF = 40;
const KERNELS = Array.from({ length: 8 }, (_, phase) =>
  Float64Array.from({ length: 2 * HALF }, (__, i) => {
    const x = phase / 8 - (i - HALF + 1);
    return x === 0 ? 1 : (Math.sin(Math.PI * x) / (Math.PI * x)) * (0.5 + 0.5 * Math.cos((Math.PI * x) / HALF));
  }),
);

function truePeakDb(samples: Float32Array): number {
  let peak = 0;
  for (let n = HALF; n < samples.length - HALF; n++) {
    for (const kernel of KERNELS) {
      let sum = 0;
      for (let i = 0; i < kernel.length; i++) sum += kernel[i] * samples[n + i - HALF + 1];
      if (Math.abs(sum) > peak) peak = Math.abs(sum);
    }
  }
  return 20 * Math.log10(peak);
}

describe('limiter', () => {
  const bursts = joined(...Array.from({ length: 12 }, (_, i) => sine(300 + 1500 * i, i % 2 ? 1 : 0.1, 0.05, RATE, i)));
  const band = (samples: Float32Array) => samples.map((x, i) => (x + (samples[i - 1] ?? 0)) / 2);
  it.each([
    ['a full-scale sine at fs/4, 45 degrees', sine(RATE / 4, 1, 0.5, RATE, Math.PI / 4)],
    ['bursts of sines', bursts],
    ['loud noise', band(noise(0.5, 0.5, RATE, 3))],
    ['a voice far too loud', babble(3, RATE).map((x) => x * 20)],
  ])('holds %s under -1 dBTP as an independent 8x meter reads it', async (_, input) => {
    for (const settings of [
      { ceilingDbtp: -1 },
      { ceilingDbtp: -1, lookaheadMs: 0.5, releaseMs: 10, inputGainDb: 12 },
    ]) {
      const output = await through('limiter', settings, input);
      expect(truePeakDb(output)).toBeLessThan(-0.95);
      expect(truePeakDb(output)).toBeGreaterThan(-2.5);
    }
  });

  it('leaves what lies below the ceiling as it is, to the bit', async () => {
    const input = mixed(sine(700, 0.5, 1, RATE), noise(0.05, 1, RATE));
    expect(await through('limiter', {}, input)).toEqual(input);
  });
});

describe('gain', () => {
  it('is exact', async () => {
    const input = noise(0.1, 0.1, RATE);
    expect(await through('gain', { gainDb: 20 }, input)).toEqual(input.map((x) => x * 10));
    expect(await through('gain', { gainDb: 0, invertPolarity: true }, input)).toEqual(input.map((x) => -x));
  });
});

it.each([
  ['gain', { gainDb: 0 }, { gainDb: -12 }],
  ['high-pass', { frequencyHz: 80 }, { frequencyHz: 900 }],
  ['parametric-eq', { bands: [] }, { bands: [{ shape: 'bell', frequencyHz: 1000, gainDb: 12, q: 1 }] }],
  ['compressor', { makeupDb: 0 }, { makeupDb: 12, thresholdDb: -40 }],
])('%s changes its settings while it runs without a click', (kind, before, after) => {
  const definition = stepOfKind(kind)!;
  const processor = definition.start(definition.settings.parse(before), { sampleRateHz: RATE, channels: 1 }, {});
  const output = sine(1000, 0.25, 1, RATE);
  processor.process([output.subarray(0, 24000)]);
  processor.update(definition.settings.parse(after));
  processor.process([output.subarray(24000)]);
  // a click is energy far from the tone: what is left after three notches by differences stays under -60 dB
  const w = 2 * Math.cos((2 * Math.PI * 1000) / RATE);
  let residue = output;
  for (let i = 0; i < 3; i++) residue = residue.map((x, n) => x - w * (residue[n - 1] ?? 0) + (residue[n - 2] ?? 0));
  const worst = residue.subarray(23000, 26500).reduce((most, x) => Math.max(most, Math.abs(x)), 0);
  expect(20 * Math.log10(worst)).toBeLessThan(-60);
});
