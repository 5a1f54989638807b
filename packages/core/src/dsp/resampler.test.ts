import { sine } from '../testing/index.ts';
import { Resampler } from './resampler.ts';

function resample(samples: Float32Array, from: number, to: number, blockFrames: number): Float32Array {
  const resampler = new Resampler(from, to, 1);
  const parts: Float32Array[] = [];
  for (let at = 0; at < samples.length; at += blockFrames)
    parts.push(resampler.push([samples.slice(at, at + blockFrames)])[0]);
  parts.push(resampler.flush()[0]);
  return Float32Array.from(parts.flatMap((part) => [...part]));
}

/** Peak level in dB, away from the ends. */
const level = (samples: Float32Array) =>
  20 * Math.log10(samples.slice(3000, -3000).reduce((most, x) => Math.max(most, Math.abs(x)), 1e-12));

/** Of a whole number of periods, near enough, away from the ends. */
const rms = (samples: Float32Array) => {
  const middle = samples.slice(samples.length * 0.1, samples.length * 0.9);
  return 10 * Math.log10(middle.reduce((sum, x) => sum + x * x, 0) / middle.length);
};

describe.each([
  [44100, 48000],
  [48000, 44100],
  [96000, 44100],
  [8000, 48000],
  [22050, 48000],
])('%i to %i Hz', (from, to) => {
  it('keeps the length to the frame, whatever the blocks', () => {
    const input = sine(1000, 0.5, 2, from);
    for (const size of [1, 100, 4096])
      expect(resample(input.slice(0, 9001), from, to, size).length).toBe(Math.round((9001 * to) / from));
  });

  it('gives the same samples however blocks are cut', () => {
    const input = sine(1000, 0.5, 0.2, from);
    expect(resample(input, from, to, 333)).toEqual(resample(input, from, to, input.length));
  });

  it('is flat within 0.01 dB to 20 kHz of 22.05, or as far of a lower Nyquist frequency', () => {
    for (const share of [0.05, 0.5, 0.8, 20000 / 22050]) {
      const hz = (share * Math.min(from, to)) / 2;
      // by its RMS: a peak between samples is not met at every frequency
      const [before, after] = [sine(hz, 0.5, 1, from), resample(sine(hz, 0.5, 1, from), from, to, 4096)];
      expect(Math.abs(rms(after) - rms(before))).toBeLessThan(0.01);
    }
  });

  it('stays where it was: output m is the input at the time of m', () => {
    const output = resample(sine(440, 0.5, 0.5, from), from, to, 4096);
    const expected = sine(440, 0.5, 0.5, to);
    for (let i = 2000; i < output.length - 2000; i += 97) expect(Math.abs(output[i] - expected[i])).toBeLessThan(2e-5);
  });
});

it.each([
  [48000, 44100, 22060],
  [48000, 44100, 23000],
  [96000, 48000, 24100],
  [96000, 44100, 30000],
  [192000, 48000, 70000],
  [48000, 8000, 4010],
])('from %i to %i Hz takes a tone of %i Hz, which would fold back, away by more than 120 dB', (from, to, hz) => {
  expect(level(resample(sine(hz, 0.5, 1, from), from, to, 4096))).toBeLessThan(-6 - 120);
});

it('makes no image of a tone: what is left when it is taken away lies under -120 dB', () => {
  const output = resample(sine(1000, 0.5, 1, 44100), 44100, 48000, 4096);
  const expected = sine(1000, 0.5, 1, 48000);
  expect(level(output.map((x, i) => x - expected[i]))).toBeLessThan(-6 - 120);
});
