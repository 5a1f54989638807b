import { inPlace, RealFft } from '@tonos/kernels';
import fc from 'fast-check';
import { noise } from '../testing/index.ts';
import { CONTROL_FRAMES, controlSteps, dbToGains, powersToDb } from './control-steps.ts';
import { amplify, ControlledGain } from './controlled-gain.ts';
import { DelayLine } from './delay-line.ts';
import { highPassTaps } from './linear-phase.ts';
import { MovingAverage } from './moving-average.ts';
import { StepPower } from './step-power.ts';
import { spectrumOfTaps, ZeroPhaseFilter } from './zero-phase-filter.ts';

/** What steers gains, against its definition written out sample by sample, however the signal is cut into blocks. */

const blockLengths = fc.array(fc.integer({ min: 0, max: 90 }), { minLength: 1, maxLength: 25 });

const samplesOf = (frames: number, seed: number) => noise(0.3, Math.max(1, frames) / 1000, 1000, seed).slice(0, frames);

/** Cuts an array into blocks of given lengths. */
function* cutAt(samples: Float32Array, lengths: readonly number[]): Generator<Float32Array> {
  let at = 0;
  for (const length of lengths) {
    yield samples.subarray(at, at + length);
    at += length;
  }
}

const totalOf = (lengths: readonly number[]) => lengths.reduce((sum, length) => sum + length, 0);

describe('StepPower', () => {
  it('is mean and largest square of each eight frames over all channels, whatever the blocks', () => {
    fc.assert(
      fc.property(blockLengths, fc.integer({ min: 1, max: 4 }), (lengths, channels) => {
        const frames = totalOf(lengths);
        const block = Array.from({ length: channels }, (_, c) => samplesOf(frames, c + 1));
        const power = new StepPower();
        const [means, largest]: [number[], number[]] = [[], []];
        const cuts = block.map((channel) => [...cutAt(channel, lengths)]);
        lengths.forEach((_, k) => {
          const heard = power.hear(cuts.map((parts) => parts[k]));
          means.push(...heard.meanSquares);
          largest.push(...heard.largest);
        });
        const steps = Math.floor(frames / CONTROL_FRAMES);
        expect(means).toHaveLength(steps);
        for (let k = 0; k < steps; k++) {
          const squares = block.flatMap((channel) =>
            [...channel.subarray(k * CONTROL_FRAMES, (k + 1) * CONTROL_FRAMES)].map((x) => x * x),
          );
          expect(means[k]).toBeCloseTo(squares.reduce((sum, x) => sum + x, 0) / squares.length, 6);
          expect(largest[k]).toBeCloseTo(Math.max(...squares), 6);
        }
      }),
    );
  });
});

describe('ControlledGain', () => {
  it('goes on straight lines from aim to aim, each reached one step after it was given, whatever the blocks', () => {
    fc.assert(
      fc.property(blockLengths, fc.double({ min: 0, max: 2, noNaN: true }), (lengths, first) => {
        const gain = new ControlledGain(first);
        const frames = totalOf(lengths);
        const aims = Float32Array.from({ length: Math.ceil(frames / CONTROL_FRAMES) }, (_, k) => ((k * 7) % 11) / 5);
        const got: number[] = [];
        let steps = 0;
        for (const length of lengths) {
          const ended = Math.floor((got.length + length) / CONTROL_FRAMES) - steps;
          got.push(...gain.over(length, aims.slice(steps, steps + ended)).subarray(0, length));
          steps += ended;
        }
        const points = [first, first, ...aims];
        got.forEach((value, i) => {
          const [step, share] = [Math.floor(i / CONTROL_FRAMES), ((i % CONTROL_FRAMES) + 1) / CONTROL_FRAMES];
          expect(value).toBeCloseTo(points[step] + share * (points[step + 1] - points[step]), 5);
        });
      }),
    );
  });

  it('stays exactly 1 where nothing is turned down', () => {
    const gain = new ControlledGain(1);
    const aims = new Float32Array(512);
    dbToGains(aims);
    const samples = samplesOf(4096, 5);
    const out = samples.slice();
    amplify([out], gain.over(4096, aims));
    expect(out).toEqual(samples);
  });

  it('goes over to other settings in 20 ms, however quick the aims are', () => {
    const rate = 8000;
    const gain = new ControlledGain(1);
    gain.over(160, new Float32Array(20).fill(1));
    gain.ease(rate);
    const after = gain.over(640, new Float32Array(80)).slice(0, 640);
    const steepest = after.reduce((most, x, i) => Math.max(most, Math.abs(x - (after[i - 1] ?? 1))), 0);
    expect(steepest).toBeLessThan(1.01 / (0.02 * rate));
    expect(after.at(-1)).toBe(0);
  });

  it('takes blocks that are longer than what kernels hold', () => {
    const frames = 150_000;
    const gain = new ControlledGain(0, 0.5);
    const aims = Float32Array.from({ length: frames / CONTROL_FRAMES }, (_, k) => (k % 3) / 2);
    const whole = gain.over(frames, aims.slice()).slice(0, frames);
    const again = new ControlledGain(0, 0.5);
    for (let at = 0; at < frames; at += 1000) {
      const part = again.over(1000, aims.slice(at / CONTROL_FRAMES, (at + 1000) / CONTROL_FRAMES));
      expect(part.subarray(0, 1000)).toEqual(whole.subarray(at, at + 1000));
    }
  });
});

describe('MovingAverage', () => {
  it('reads many values as it reads them one by one', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 60 }), blockLengths, (window, lengths) => {
        const [many, single] = [new MovingAverage(window), new MovingAverage(window)];
        const values = samplesOf(totalOf(lengths), 3).map(Math.abs);
        for (const part of cutAt(values, lengths)) {
          const expected = part.map((value) => single.next(value));
          inPlace(part, [], (count, at) => many.readAt(at, count));
          expect(part).toEqual(expected);
        }
      }),
    );
  });

  it('takes values that are too large as the largest there may be, and forgets them', () => {
    const average = new MovingAverage(4);
    const values = Float32Array.of(1e9, 0, 0, 0, 0, 0.5);
    inPlace(values, [], (count, at) => average.readAt(at, count));
    expect(values[0]).toBeCloseTo(4096 / 4 / 4, 3);
    expect(values[4]).toBe(0);
    expect(values[5]).toBe(0.125);
  });
});

it('decibels and gains go there and back', () => {
  fc.assert(
    fc.property(fc.array(fc.double({ min: -140, max: 40, noNaN: true }), { maxLength: 50 }), (levels) => {
      const gains = Float32Array.from(levels);
      dbToGains(gains);
      const powers = gains.map((gain) => gain * gain);
      powersToDb(powers);
      levels.forEach((level, i) => {
        // beneath -80 dBFS a power leaves what single precision holds in full only at -380 dB
        expect(Math.abs(powers[i] - level)).toBeLessThan(1e-4);
      });
    }),
  );
});

it('a length in control steps is rounded, and never none', () => {
  expect([0, 3, 4, 11, 12, 800].map(controlSteps)).toEqual([1, 1, 1, 1, 2, 100]);
});

describe('ZeroPhaseFilter over taps', () => {
  it.each([
    [48000, 6000],
    [44100, 2000],
    [16000, 5000],
  ])('at %d Hz is the sum over its taps, late by its latency', (rate, hz) => {
    const taps = highPassTaps(0.8 * hz, hz, 66, rate);
    const half = (taps.length - 1) / 2;
    const fft = new RealFft(2 ** Math.ceil(Math.log2(2 * taps.length)));
    const filter = new ZeroPhaseFilter(fft, spectrumOfTaps(fft, taps));
    const samples = samplesOf(3 * fft.size, 9);
    const out = new Float32Array(samples.length + filter.latencyFrames);
    out.set(samples);
    for (let at = 0; at < out.length; at += 333) filter.process(out.subarray(at, at + 333));
    for (let n = half; n < samples.length - half; n += 37) {
      const sum = taps.reduce((all, tap, k) => all + tap * samples[n - half + k], 0);
      expect(Math.abs(out[n + filter.latencyFrames] - sum)).toBeLessThan(2e-6);
    }
  });

  it.each([
    [48000, 4000, 60],
    [16000, 6000, 66],
    [96000, 12000, 66],
    [44100, 2000, 50],
  ])('high-pass taps at %d Hz over %d Hz stop what lies under it by %d dB, and pass the rest', (rate, hz, down) => {
    const taps = highPassTaps(0.5 * hz, hz, down, rate);
    const half = (taps.length - 1) / 2;
    const gainAt = (f: number) =>
      Math.abs(taps.reduce((sum, tap, k) => sum + tap * Math.cos((2 * Math.PI * f * (k - half)) / rate), 0));
    for (let f = 0; f <= 0.5 * hz; f += 50) expect(20 * Math.log10(gainAt(f))).toBeLessThan(-down);
    for (let f = hz; f < rate / 2; f += 500) expect(Math.abs(20 * Math.log10(gainAt(f)))).toBeLessThan(0.02);
  });
});

it('DelayLine is late by its frames, whatever the blocks', () => {
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 120 }), blockLengths, (late, lengths) => {
      const line = new DelayLine(1, late);
      const samples = samplesOf(totalOf(lengths), 4);
      const delayed = samples.slice();
      for (const part of cutAt(delayed, lengths)) line.process([part]);
      expect(delayed).toEqual(Float32Array.from(samples, (_, n) => samples[n - late] ?? 0));
    }),
  );
});
