import { inPlace } from '@tonos/kernels';
import fc from 'fast-check';
import { Ballistics } from '../steps/ballistics.ts';
import { RampedGain } from '../steps/ramped-gain.ts';
import { rmsOf, sine } from '../testing/index.ts';
import { interpolate, predictionErrors, predictor } from './autoregression.ts';
import { FilterCascade } from './filter-cascade.ts';
import { InLine } from './in-line.ts';
import { matchedCascade } from './matched-cascade.ts';
import { monotoneCurve } from './monotone-curve.ts';
import { butterworth } from './prototypes.ts';
import type { Section } from './section.ts';

describe('FilterCascade', () => {
  /** Direct form 1, written out. */
  const plain = (sections: readonly Section[], samples: Float32Array): Float64Array => {
    let signal = Float64Array.from(samples);
    for (const [b0, b1, b2, a1, a2] of sections) {
      const out = new Float64Array(signal.length);
      signal.forEach((x, n) => {
        out[n] =
          b0 * x +
          b1 * (signal[n - 1] ?? 0) +
          b2 * (signal[n - 2] ?? 0) -
          a1 * (out[n - 1] ?? 0) -
          a2 * (out[n - 2] ?? 0);
      });
      signal = out;
    }
    return signal;
  };

  it('is its sections one after the other, however many, and whatever the blocks', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 40, max: 8000, noNaN: true }), { minLength: 1, maxLength: 9 }),
        fc.integer({ min: 1, max: 300 }),
        (edges, blockFrames) => {
          const sections = edges.map((hz, i) => matchedCascade(butterworth(i % 2 ? 'low' : 'high', 2, hz), 48000)[0]);
          const samples = sine(777, 0.5, 0.02, 48000);
          const expected = plain(sections, samples);
          const cascade = new FilterCascade(sections, 1);
          const out = samples.slice();
          for (let at = 0; at < out.length; at += blockFrames) cascade.process([out.subarray(at, at + blockFrames)]);
          out.forEach((x, n) => expect(Math.abs(x - expected[n])).toBeLessThan(1e-6));
        },
      ),
      { numRuns: 30 },
    );
  });
});

describe('monotoneCurve', () => {
  const points = fc
    .uniqueArray(fc.integer({ min: 0, max: 1000 }), { minLength: 2, maxLength: 8 })
    .chain((xs) =>
      fc.tuple(
        fc.constant([...xs].sort((a, b) => a - b)),
        fc.array(fc.double({ min: -24, max: 24, noNaN: true }), { minLength: xs.length, maxLength: xs.length }),
      ),
    );

  it('goes through its points, between two of them never beyond either, and is level outside', () => {
    fc.assert(
      fc.property(points, ([xs, ys]) => {
        const curve = monotoneCurve(xs, ys);
        xs.forEach((x, i) => expect(curve(x)).toBeCloseTo(ys[i], 9));
        expect(curve(xs[0] - 50)).toBe(ys[0]);
        expect(curve(xs.at(-1)! + 50)).toBe(ys.at(-1));
        for (let i = 0; i + 1 < xs.length; i++) {
          const [low, high] = [Math.min(ys[i], ys[i + 1]), Math.max(ys[i], ys[i + 1])];
          for (let share = 0; share <= 1; share += 0.1) {
            const y = curve(xs[i] + share * (xs[i + 1] - xs[i]));
            expect(y).toBeGreaterThanOrEqual(low - 1e-9);
            expect(y).toBeLessThanOrEqual(high + 1e-9);
          }
        }
      }),
    );
  });
});

it('InLine gives as many frames as went in, without the first that are late, whatever the blocks', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 0, max: 50 }),
      fc.array(fc.integer({ min: 0, max: 30 }), { minLength: 1, maxLength: 20 }),
      (late, blocks) => {
        const line = new InLine(late);
        const heard: number[] = [];
        let made = 0;
        const take = (frames: number) => {
          heard.push(...line.comesOut([Float32Array.from({ length: frames }, () => made++)])[0]);
        };
        for (const frames of blocks) {
          line.goesIn(frames);
          take(frames);
        }
        while (line.missing) take(7);
        const total = blocks.reduce((sum, frames) => sum + frames, 0);
        expect(heard).toEqual(Array.from({ length: total }, (_, i) => late + i));
      },
    ),
  );
});

describe('prediction', () => {
  it('foretells a decaying tone, and rebuilds what is missing of it', () => {
    const tone = Float64Array.from({ length: 1200 }, (_, i) => 0.999 ** i * Math.sin(0.13 * i));
    const a = predictor(tone, 16);
    const errors = predictionErrors(tone, a);
    const power = (values: Float64Array) => values.reduce((sum, x) => sum + x * x, 0);
    expect(10 * Math.log10(power(errors.subarray(16)) / power(tone))).toBeLessThan(-20);
    const holed = tone.slice();
    const missing = Array.from({ length: 12 }, (_, i) => 600 + i);
    for (const at of missing) holed[at] = 0;
    interpolate(holed, missing, predictor(holed, 16));
    const wrong = missing.reduce((most, at) => Math.max(most, Math.abs(holed[at] - tone[at])), 0);
    expect(wrong).toBeLessThan(0.05 * 0.999 ** 600);
  });

  it('has nothing to say of silence, and stays finite for anything', () => {
    const [first, ...rest] = predictor(new Float64Array(400), 16);
    expect(first).toBe(1);
    expect(rest.every((a) => a === 0)).toBe(true);
    fc.assert(
      fc.property(fc.float64Array({ minLength: 64, maxLength: 300, min: -1, max: 1, noNaN: true }), (samples) => {
        const a = predictor(samples, 16);
        expect(a.every(Number.isFinite)).toBe(true);
        expect(predictionErrors(samples, a).every((e) => e >= 0 && Number.isFinite(e))).toBe(true);
      }),
    );
  });
});

describe('Ballistics', () => {
  const read = (one: Ballistics, wanted: Float32Array) => inPlace(wanted, [], (count, at) => one.readAt(at, count));
  it.each([0.001, 0.01, 0.2])('goes 63 %% of the way in %d s, up by the attack and down by the release', (seconds) => {
    const [rising, falling] = [new Ballistics(), new Ballistics()];
    const step = seconds / 1000;
    rising.set(seconds, 99, step);
    falling.set(1e-9, seconds, step);
    read(falling, Float32Array.of(10));
    const [up, down] = [new Float32Array(1000).fill(10), new Float32Array(1000)];
    read(rising, up);
    read(falling, down);
    expect(up.at(-1)).toBeCloseTo(10 * (1 - Math.exp(-1)), 1);
    expect(down.at(-1)).toBeCloseTo(10 * Math.exp(-1), 1);
    // the largest since somebody asked
    expect(falling.takeLargest()).toBeCloseTo(10, 3);
    expect(falling.takeLargest()).toBeCloseTo(10 * Math.exp(-1), 1);
  });
});

it('RampedGain moves to a new gain in 20 ms on a straight line, and lands exactly', () => {
  fc.assert(
    fc.property(fc.double({ min: 0, max: 4, noNaN: true }), fc.double({ min: 0, max: 4, noNaN: true }), (from, to) => {
      const gain = new RampedGain(from, { sampleRateHz: 1000, channels: 1 }, (x: number) => x);
      const first = new Float32Array(10).fill(1);
      gain.process([first]);
      expect(first.every((x) => x === Math.fround(from))).toBe(true);
      gain.update(to);
      const moving = new Float32Array(40).fill(1);
      for (const [start, end] of [
        [0, 7],
        [7, 21],
        [21, 40],
      ])
        gain.process([moving.subarray(start, end)]);
      for (let i = 0; i < 20; i++) expect(moving[i]).toBeCloseTo(from + ((i + 1) / 20) * (to - from), 5);
      expect(moving.slice(20).every((x) => x === Math.fround(to))).toBe(true);
    }),
  );
});

it('the tests\u2019 own sine has the RMS that a sine has', () => {
  expect(rmsOf(sine(1000, 0.5, 1, 48000))).toBeCloseTo(0.5 / Math.SQRT2, 6);
});
