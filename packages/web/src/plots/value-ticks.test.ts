import fc from 'fast-check';
import { valueTicks } from './value-ticks.ts';

it('rules levels in round decibels, and lengths as clocks count', () => {
  expect(valueTicks([-23, -18.2, -16], false)).toEqual([-24, -22, -20, -18, -16]);
  expect(valueTicks([1200, 1900], true)).toEqual([0, 600, 1200, 1800, 2400]);
  expect(valueTicks([], false).length).toBeGreaterThan(1);
});

it('holds every value between its first and its last, in even steps, about as many as wished', () => {
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: -15_000, max: 4_000_000 }), { minLength: 1 }),
      fc.boolean(),
      (given, inTime) => {
        const values = given.map((hundredths) => (inTime ? Math.abs(hundredths) : hundredths) / 100);
        const ticks = valueTicks(values, inTime);
        expect(ticks[0]).toBeLessThanOrEqual(Math.min(...values));
        expect(ticks.at(-1)).toBeGreaterThanOrEqual(Math.max(...values));
        expect(ticks.length).toBeLessThanOrEqual(9);
        const steps = ticks.slice(1).map((tick, i) => tick - ticks[i]);
        for (const step of steps) expect(step).toBeCloseTo(steps[0], 6);
      },
    ),
  );
});
