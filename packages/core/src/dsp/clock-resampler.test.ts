import { cut } from '../signal/memory.ts';
import { framesOf } from '../signal/signal.ts';
import { joined, noise, rmsOf, sine } from '../testing/index.ts';
import { ClockResampler } from './clock-resampler.ts';

const RATE = 16_000;

function resampled(samples: Float32Array, ratio: number, size = 4096): Float32Array {
  const resampler = new ClockResampler(ratio, 1);
  const parts = [...cut([samples], size)].map((block) => resampler.push(block)[0]);
  return joined(...parts, resampler.flush()[0]);
}

it.each([1 + 60e-6, 1 - 85e-6, 1.0005])(
  'puts a clock right: a tone of a clock that is off by %p lies where it belongs',
  (ratio) => {
    // by the fast clock a second has more samples
    const seconds = 5;
    const source = sine(1000 / ratio, 0.5, seconds * ratio, RATE);
    const wanted = sine(1000, 0.5, seconds, RATE);
    const made = resampled(source, ratio);
    expect(made.length).toBe(Math.round(source.length / ratio));
    const inside = (samples: Float32Array) => samples.subarray(200, wanted.length - 200);
    const off = inside(made).map((x, i) => x - inside(wanted)[i]);
    expect(20 * Math.log10(rmsOf(off) / rmsOf(wanted))).toBeLessThan(-80);
  },
);

it.each([100, 3000, 6500])('keeps the level of a tone of %p Hz within 0.01 dB', (hz) => {
  const made = resampled(sine(hz, 0.5, 2, RATE), 1 + 100e-6);
  const inside = made.subarray(1000, made.length - 1000);
  expect(Math.abs(20 * Math.log10(rmsOf(inside) / (0.5 / Math.SQRT2)))).toBeLessThan(0.01);
});

it('is the same whatever the blocks', () => {
  const samples = noise(0.1, 1, RATE);
  const whole = resampled(samples, 1 + 60e-6, samples.length);
  for (const size of [1, 97, 4096]) expect(resampled(samples, 1 + 60e-6, size)).toEqual(whole);
});

it('has nothing to give where nothing came', () => {
  expect(framesOf(new ClockResampler(1.0001, 2).flush())).toBe(0);
});
