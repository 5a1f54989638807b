import fc from 'fast-check';
import { rulerScale } from './ruler-scale.ts';

const value = fc.double({ min: -100, max: 100, noNaN: true });
const windows = fc
  .tuple(value, fc.double({ min: 0, max: 60, noNaN: true }), fc.constantFrom('both', 'from', 'to'))
  .map(([from, span, ends]) => ({ min: ends === 'to' ? null : from, max: ends === 'from' ? null : from + span }));

it('holds its window and every figure, in their order', () => {
  fc.assert(
    fc.property(windows, fc.array(value, { maxLength: 8 }), ({ min, max }, values) => {
      const { place, windowStart, windowEnd } = rulerScale(min, max, values, 'dB');
      expect(windowStart).toBeGreaterThanOrEqual(0);
      expect(windowEnd).toBeLessThanOrEqual(1);
      expect(windowEnd).toBeGreaterThanOrEqual(windowStart);
      const sorted = [...values].sort((a, b) => a - b).map(place);
      sorted.forEach((at, i) => {
        expect(at).toBeGreaterThanOrEqual(0);
        expect(at).toBeLessThanOrEqual(1);
        if (i) expect(at).toBeGreaterThanOrEqual(sorted[i - 1]);
      });
    }),
  );
});

it('shows what is inside inside, and what is outside outside', () => {
  fc.assert(
    fc.property(windows, value, ({ min, max }, one) => {
      const { place, windowStart, windowEnd } = rulerScale(min, max, [one], 'dB');
      if (min !== null && one < min - 0.5) expect(place(one)).toBeLessThan(windowStart);
      if (max !== null && one > max + 0.5) expect(place(one)).toBeGreaterThan(windowEnd);
      if ((min === null || one >= min) && (max === null || one <= max)) {
        expect(place(one)).toBeGreaterThanOrEqual(windowStart - 1e-9);
        expect(place(one)).toBeLessThanOrEqual(windowEnd + 1e-9);
      }
    }),
  );
});

it('gives a window room beside a figure that lies far off', () => {
  const { windowStart, windowEnd, place } = rulerScale(-23, -18, [-90], 'dB');
  expect(windowEnd - windowStart).toBeGreaterThan(0.15);
  expect(place(-90)).toBeCloseTo(0.03, 9);
});

describe('rulers', () => {
  it('hold the window and every figure in order', () => {
    const { place, windowStart, windowEnd } = rulerScale(-23, -18, [-30, -20, -17], 'dBFS');
    expect(place(-30)).toBeLessThan(windowStart);
    expect(place(-20)).toBeGreaterThan(windowStart);
    expect(place(-20)).toBeLessThan(windowEnd);
    expect(place(-17)).toBeGreaterThan(windowEnd);
  });

  it('keep a figure that is far off at their edge', () => {
    const { place, windowStart, windowEnd } = rulerScale(-17, -15, [-90, -16], 'LUFS');
    expect(place(-90)).toBeCloseTo(0.03, 5);
    expect(windowEnd - windowStart).toBeGreaterThan(0.05);
  });

  it('are open on the side without a limit', () => {
    expect(rulerScale(null, -1, [-3], 'dBTP').windowStart).toBe(0);
    expect(rulerScale(1, null, [2], 's').windowEnd).toBe(1);
  });
});
