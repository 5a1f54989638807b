import { fromShare, toShare } from './setting-scale.ts';

const FREQUENCY = { minimum: 10, maximum: 20000, scale: 'logarithmic', step: 1 } as const;
const GAIN = { minimum: -24, maximum: 24, scale: 'linear', step: 0.1 } as const;

it('spreads a frequency by ratio: the middle of 10 to 20,000 Hz is their geometric mean, 447 Hz', () => {
  expect(fromShare(0.5, FREQUENCY)).toBe(447);
  expect(toShare(447, FREQUENCY)).toBeCloseTo(0.5, 3);
});

it('spreads a gain by value, on its step', () => {
  expect(fromShare(0.5, GAIN)).toBe(0);
  expect(fromShare(0.7512, GAIN)).toBe(12.1);
});

it('stays inside the range', () => {
  expect(fromShare(1, FREQUENCY)).toBe(20000);
  expect(toShare(99999, FREQUENCY)).toBe(1);
});
