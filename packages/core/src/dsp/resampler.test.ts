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

  it('is flat within 0.01 dB to 90 % of the lower Nyquist frequency', () => {
    for (const share of [0.05, 0.5, 0.9]) {
      const hz = (share * Math.min(from, to)) / 2;
      expect(
        Math.abs(level(resample(sine(hz, 0.5, 1, from), from, to, 4096)) - level(sine(hz, 0.5, 1, from))),
      ).toBeLessThan(0.02);
    }
  });

  it('stays where it was: output m is the input at the time of m', () => {
    const output = resample(sine(440, 0.5, 0.5, from), from, to, 4096);
    const expected = sine(440, 0.5, 0.5, to);
    for (let i = 2000; i < output.length - 2000; i += 97) expect(Math.abs(output[i] - expected[i])).toBeLessThan(2e-5);
  });
});

it('takes a 23 kHz tone away by more than 100 dB on the way from 48 to 44.1 kHz', () => {
  expect(level(resample(sine(23000, 0.5, 1, 48000), 48000, 44100, 4096))).toBeLessThan(-106);
});
