import { RealFft } from '@tonos/kernels';
import { kWeightingPower } from '../../dsp/k-weighting.ts';
import { LoudnessMeter } from '../../measure/loudness.ts';
import { noise, processBlock } from '../../testing/index.ts';

const RATE = 40000;
const THIRDS = Array.from({ length: 19 }, (_, i) => 1000 * 2 ** ((i - 10) / 3)); // 99 Hz to 6.35 kHz

/** Third-octave levels in dB by averaged transforms: not the meter that the step itself listens with. */
function thirdOctavesDb(samples: Float32Array): number[] {
  const size = 16384;
  const fft = new RealFft(size);
  const [re, im] = [new Float32Array(fft.bins), new Float32Array(fft.bins)];
  const power = new Float64Array(fft.bins);
  for (let start = 0; start + size <= samples.length; start += size / 2) {
    fft.forward(samples.subarray(start, start + size), re, im, 'hann');
    for (let k = 0; k < fft.bins; k++) power[k] += re[k] * re[k] + im[k] * im[k];
  }
  return THIRDS.map((hz) => {
    const bin = (f: number) => Math.round((f * size) / RATE);
    let total = 0;
    for (let k = bin(hz * 2 ** (-1 / 6)); k < bin(hz * 2 ** (1 / 6)); k++) total += power[k];
    return 10 * Math.log10(total);
  });
}

const white = noise(0.05, 20, RATE);
// white noise rises by 3.01 dB an octave in bands of constant width in octaves; wanted is a fall of 3 dB an octave
const falling = [50, 100, 1000, 10000, 16000].map((frequencyHz) => ({
  frequencyHz,
  levelDb: -40 - 3 * Math.log2(frequencyHz / 1000),
}));
const match = async (settings: Record<string, unknown>, input = white) =>
  (await processBlock([{ kind: 'tone-match', settings: { reference: falling, ...settings } }], [input], RATE))
    .output[0];

/** How far the shape departs from a slope in dB an octave, at worst, over some of the bands. */
function departureDb(levels: readonly number[], slope: number, from = 0, to = THIRDS.length): number {
  const rest = levels.slice(from, to).map((db, i) => db - slope * Math.log2(THIRDS[from + i]));
  const mean = rest.reduce((sum, db) => sum + db, 0) / rest.length;
  return Math.max(...rest.map((db) => Math.abs(db - mean)));
}

it('meets the reference\u2019s third octaves within 1 dB', async () => {
  expect(departureDb(thirdOctavesDb(white), 3.01)).toBeLessThan(0.5);
  expect(departureDb(thirdOctavesDb(await match({ rangeDb: 24 })), -3)).toBeLessThan(1);
});

it('goes the asked part of the way', async () => {
  expect(departureDb(thirdOctavesDb(await match({ rangeDb: 24, amount: 0.5 })), 0)).toBeLessThan(1);
});

it('moves no band by more than the range against the untouched ones', async () => {
  const before = thirdOctavesDb(white);
  const after = thirdOctavesDb(await match({ rangeDb: 3 }));
  const moved = after.map((db, i) => db - before[i]);
  expect(Math.max(...moved) - Math.min(...moved)).toBeLessThan(6.5);
  expect(Math.max(...moved) - Math.min(...moved)).toBeGreaterThan(5.5);
});

it('leaves the loudness alone, whatever the level of the reference', async () => {
  const louder = falling.map((point) => ({ ...point, levelDb: point.levelDb + 40 }));
  // a voice has next to nothing above the bands that the step listens to
  let last = 0;
  const dull = white.map((x) => (last += 0.15 * (x - last)));
  const matched = (reference: unknown) => match({ rangeDb: 24, reference }, dull);
  const levels = [dull, await matched(falling), await matched(louder)].map((samples) => {
    const meter = new LoudnessMeter({ sampleRateHz: RATE, channels: 1 });
    meter.hear([samples]);
    return meter.conclude().integratedLufs!;
  });
  expect(Math.abs(levels[1] - levels[0])).toBeLessThan(0.3);
  expect(Math.abs(levels[2] - levels[1])).toBeLessThan(0.01);
});

it('does nothing without a reference', async () => {
  const output = await match({ reference: [] });
  expect(output.reduce((most, x, i) => Math.max(most, Math.abs(x - white[i])), 0)).toBeLessThan(1e-6);
});

it('weighs as BS.1770: 0 dB near 997 Hz but for the constant, +4 dB up, steeply down under 40 Hz', () => {
  const db = (hz: number) => 10 * Math.log10(kWeightingPower(hz));
  expect(db(997)).toBeCloseTo(0.691, 1);
  expect(db(16000)).toBeGreaterThan(3.8);
  expect(db(20)).toBeLessThan(-12);
});
