import { configureChain, cut, MemorySignal, runChain } from '@tonos/core';
import { memorySurroundings, noise, sine } from '@tonos/core/testing';
import { paintStep } from './paint-step.ts';

const RATE = 48000;

/** What is drawn of one step over samples. */
async function painted(kind: string, settings: Record<string, unknown>, samples: Float32Array) {
  const [step] = configureChain([{ id: 'one', kind, on: true, mix: 1, settings }]);
  const before = new MemorySignal({ sampleRateHz: RATE, channels: 1 }, [...cut([samples], 5000)]);
  const after = new MemorySignal(before.format);
  const [{ findings }] = await runChain([step], before, () => after, memorySurroundings);
  return paintStep(step, before, after, findings, {});
}

/** A quiet tone that is loud between two places, as shares of its length. */
const burst = (from: number, to: number) => {
  const tone = sine(500, 0.9, 4, RATE);
  return tone.map((x, i) => (i >= from * tone.length && i < to * tone.length ? x : 0.01 * x));
};

it('draws the wave before and after in columns, as large as they are', async () => {
  const { before, after } = await painted('gain', { gainDb: -6 }, burst(0.25, 0.5));
  expect(before).toHaveLength(600);
  const middle = Math.floor(600 * 0.375);
  expect(before[middle][1]).toBeCloseTo(0.9, 2);
  expect(before[middle][0]).toBeCloseTo(-0.9, 2);
  expect(after[middle][1]).toBeCloseTo(0.9 * 10 ** (-6 / 20), 2);
  expect(before[550][1]).toBeCloseTo(0.009, 3);
});

it.each([
  ['compressor', { thresholdDb: -20, ratio: 4, attackMs: 1, releaseMs: 20 }],
  ['limiter', { ceilingDbtp: -6, releaseMs: 20 }],
])('puts what the %s does over the sound that it does it to, its latency taken off', async (kind, settings) => {
  const { traces, totals } = await painted(kind, settings, burst(0.25, 0.5));
  const { gainReductionDb } = traces;
  const working = gainReductionDb.flatMap((value, column) => (value > 1 ? [column] : []));
  // a piece of 512 frames is 1.6 columns wide, and a release of 20 ms three
  expect(Math.abs(working[0] - 150)).toBeLessThanOrEqual(3);
  expect(Math.abs(working.at(-1)! - 300)).toBeLessThanOrEqual(13);
  expect(totals.gainReductionDb.most).toBeCloseTo(Math.max(...gainReductionDb), 6);
  expect(Math.abs(totals.gainReductionDb.atSeconds - 1.5)).toBeLessThan(0.55);
});

it('means what a step does while it works, not while it rests', async () => {
  const { totals } = await painted(
    'compressor',
    { thresholdDb: -20, ratio: 4, kneeDb: 0, detector: 'rms' },
    burst(0.25, 0.75),
  );
  // a sine of 0.9 is -3.9 dBFS RMS, 16.1 dB over the threshold: three quarters of that are taken away
  expect(totals.gainReductionDb.most).toBeCloseTo(0.75 * (20 * Math.log10(0.9 / Math.SQRT2) + 20), 0);
  // over two seconds, and over a release of 120 ms until less than 0.05 dB is left
  const { mean, most } = totals.gainReductionDb;
  expect(mean / ((most * 2.12) / (2 + 0.12 * Math.log(most / 0.05)))).toBeCloseTo(1, 1);
});

it('gives the spectra before and after, where a filter lies', async () => {
  const { spectrumBefore, spectrumAfter } = await painted('high-pass', { frequencyHz: 1000 }, noise(0.1, 4, RATE));
  const at = spectrumBefore.centresHz.findIndex((hz) => hz > 240);
  const high = spectrumBefore.centresHz.findIndex((hz) => hz > 4000);
  const difference = (k: number) => spectrumAfter.loudDb[k]! - spectrumBefore.loudDb[k]!;
  // 24 dB per octave, two octaves down
  expect(Math.abs(difference(at) + 48)).toBeLessThan(3);
  expect(Math.abs(difference(high))).toBeLessThan(0.5);
});
