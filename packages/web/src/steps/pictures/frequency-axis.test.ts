import fc from 'fast-check';
import { exactHertzAtShare, hertzAtShare, shareOfHertz } from './frequency-axis.ts';

const audible = fc.double({ min: 20, max: 20000, noNaN: true });

it('spans the audible range, an octave as wide everywhere', () => {
  expect(shareOfHertz(20)).toBe(0);
  expect(shareOfHertz(20000)).toBeCloseTo(1, 12);
  fc.assert(
    fc.property(fc.double({ min: 20, max: 10000, noNaN: true }), (hz) => {
      expect(shareOfHertz(2 * hz) - shareOfHertz(hz)).toBeCloseTo(Math.log(2) / Math.log(1000), 9);
    }),
  );
});

it('goes there and back', () => {
  fc.assert(
    fc.property(audible, (hz) => {
      expect(exactHertzAtShare(shareOfHertz(hz)) / hz).toBeCloseTo(1, 9);
    }),
  );
});

it('gives a hand frequencies of three figures, within half a percent of where it points, and none outside', () => {
  fc.assert(
    fc.property(audible, (hz) => {
      const given = hertzAtShare(shareOfHertz(hz));
      expect(Math.abs(given / hz - 1)).toBeLessThan(0.0051);
      expect(Number(given.toPrecision(3))).toBe(given);
    }),
  );
  expect(hertzAtShare(-3)).toBe(20);
  expect(hertzAtShare(7)).toBe(20000);
});
