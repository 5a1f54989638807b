import { inPlace } from '@tonos/kernels';
import { cut } from '../signal/memory.ts';
import { Random } from '../signal/random.ts';
import { levelDb, noise, sine } from '../testing/index.ts';
import { Crossfaded } from './crossfaded.ts';
import { DelayLine } from './delay-line.ts';
import { HalfBandDecimator } from './half-band.ts';
import { kWeighting } from './k-weighting.ts';
import { MovingAverage } from './moving-average.ts';
import { sectionPower } from './section.ts';
import { SlidingMaximum } from './sliding-extreme.ts';
import { Stft } from './stft.ts';
import { IntervalPeaks, TRUE_PEAK_LATENCY } from './true-peak.ts';

/** The parts that steps are made of, each against its definition. */

it('Stft gives back what went in, `size` frames later', () => {
  const input = noise(0.2, 0.3, 16000);
  const output = input.slice();
  const stft = new Stft(512);
  for (let at = 0; at < output.length; at += 300) stft.process(output.subarray(at, at + 300), () => {});
  for (let i = 1024; i < input.length; i++) expect(Math.abs(output[i] - input[i - 512])).toBeLessThan(1e-6);
});

it('SlidingMaximum is the largest of the last values, by looking at each, one by one and many at once', () => {
  const random = new Random(8);
  const values = Float32Array.from({ length: 3000 }, () => Math.floor(random.next() * 50));
  for (const window of [1, 2, 7, 64, 8191]) {
    const largest = values.map((_, i) => Math.max(...values.subarray(Math.max(0, i - window + 1), i + 1)));
    const [single, many] = [new SlidingMaximum(window), new SlidingMaximum(window)];
    expect(values.map((value) => single.next(value))).toEqual(largest);
    const together = values.slice();
    for (const [part] of cut([together], 701)) inPlace(part, [], (count, at) => many.readAt(at, count));
    expect(together).toEqual(largest);
    expect(many.next(60)).toBe(60);
  }
});

it('MovingAverage leaves no remainder: after a million odd values a constant comes out exactly', () => {
  const random = new Random(9);
  const average = new MovingAverage(37, 1);
  for (let i = 0; i < 1e6; i++) average.next(random.next());
  let last = 0;
  for (let i = 0; i < 37; i++) last = average.next(0.75);
  expect(last).toBe(0.75);
});

it('DelayLine delays by its frames, whatever the blocks', () => {
  const input = noise(0.5, 0.05, 16000);
  const delayed = input.slice();
  const line = new DelayLine(1, 123);
  for (const block of cut([delayed], 50)) line.process(block);
  expect([...delayed.subarray(0, 123)].every((x) => x === 0)).toBe(true);
  expect(delayed.subarray(123)).toEqual(input.subarray(0, input.length - 123));
});

describe('K-weighting (ITU-R BS.1770-5)', () => {
  it('has the coefficients of the standard at 48 kHz', () => {
    const [shelf, pass] = kWeighting(48000);
    const expected = [1.53512485958697, -2.69169618940638, 1.19839281085285, -1.69065929318241, 0.73248077421585];
    shelf.forEach((value, i) => expect(value).toBeCloseTo(expected[i], 10));
    [1, -2, 1, -1.99004745483398, 0.99007225036621].forEach((value, i) => expect(pass[i]).toBeCloseTo(value, 10));
  });

  it.each([44100, 96000])('weighs as at 48 kHz within 0.1 dB to 8 kHz at %d Hz', (rate) => {
    const weight = (hz: number, at: number) =>
      10 * Math.log10(kWeighting(at).reduce((power, section) => power * sectionPower(section, hz, at), 1));
    for (const hz of [50, 200, 1000, 3000, 8000])
      expect(Math.abs(weight(hz, rate) - weight(hz, 48000))).toBeLessThan(0.1);
  });
});

describe('IntervalPeaks', () => {
  it('finds the crest between two samples: fs/4 at 45 degrees is 1 in every other interval, where samples show 0.707', () => {
    const samples = sine(12000, 1, 0.02, 48000, Math.PI / 4);
    const peaks = new Float32Array(samples.length);
    new IntervalPeaks().read(samples, peaks, 0);
    for (let i = 200; i < 700; i++)
      expect(Math.max(peaks[i + TRUE_PEAK_LATENCY], peaks[i + TRUE_PEAK_LATENCY + 1])).toBeCloseTo(1, 2);
  });

  it('finds every peak over its floor exactly, though it looks roughly below', () => {
    const samples = noise(0.3, 0.2, 48000, 5);
    const [exact, quick] = [new Float32Array(samples.length), new Float32Array(samples.length)];
    new IntervalPeaks().read(samples, exact, 0);
    const floor = 0.8;
    new IntervalPeaks().read(samples, quick, floor);
    for (let i = 0; i < samples.length; i++) {
      if (exact[i] > 1.09 * floor) expect(quick[i]).toBe(exact[i]);
      else expect(quick[i]).toBeLessThanOrEqual(exact[i]);
    }
  });
});

it('Crossfaded changes its settings over 20 ms, without a step larger than the fade allows', () => {
  const rate = 16000;
  const faded = new Crossfaded({ gain: 1 }, { sampleRateHz: rate, channels: 1 }, ({ gain }) => ({
    process: (block) => {
      for (const channel of block) for (let i = 0; i < channel.length; i++) channel[i] *= gain;
    },
  }));
  const out: number[] = [];
  for (let round = 0; round < 20; round++) {
    if (round === 5) faded.update({ gain: 0 });
    const block = [new Float32Array(100).fill(1)];
    faded.process(block);
    out.push(...block[0]);
  }
  expect(out.slice(0, 500).every((x) => x === 1)).toBe(true);
  expect(out.slice(500 + 320).every((x) => x === 0)).toBe(true);
  for (let i = 1; i < out.length; i++) expect(Math.abs(out[i] - out[i - 1])).toBeLessThan(Math.PI / 2 / 320 + 1e-6);
});

describe('HalfBandDecimator', () => {
  /** Level in dB of what a tone leaves at half the rate. */
  const left = (share: number) => {
    const out = new Float64Array(4096);
    const tone = sine(share * 48000, 1, 8000 / 48000, 48000);
    const decimator = new HalfBandDecimator();
    let count = 0;
    // in parts of odd lengths
    for (let from = 0; from < 8000; from += 333) {
      const part = new Float32Array(400);
      const made = decimator.push(tone.subarray(from, Math.min(8000, from + 333)), part);
      out.set(part.subarray(0, made), count);
      count += made;
    }
    expect(Math.abs(count - 4000)).toBeLessThan(8);
    return levelDb(Float32Array.from(out.subarray(200, 3800))) + 3.01;
  };

  it('passes a sixth of the rate within 0.11 dB, and keeps what folds onto it 38 dB under', () => {
    for (const share of [0.01, 0.08, 1 / 6]) expect(Math.abs(left(share))).toBeLessThan(0.11);
    for (const share of [1 / 3 + 0.001, 0.4, 0.49]) expect(left(share)).toBeLessThan(-38);
  });
});
