import fc from 'fast-check';
import { rulerScale } from './ruler-scale.ts';
import { spreadOf } from './spread.ts';

const share = (value: number) => value / 100;

it('tells the lowest, the highest and the median, and where most lie', () => {
  const spread = spreadOf([50, 10, 50, 51, 90], share, 200)!;
  expect([spread.lowest, spread.median, spread.highest]).toEqual([10, 50, 90]);
  expect(spread.columns).toEqual([
    { x: 21, share: 0.5 },
    { x: 101, share: 1 },
    { x: 103, share: 0.5 },
    { x: 181, share: 0.5 },
  ]);
});

it('has no place for nothing, and the median of two is between them', () => {
  expect(spreadOf([], share, 100)).toBeUndefined();
  expect(spreadOf([4, 6], share, 100)!.median).toBe(5);
});

it('every figure lies in a column of the ruler, the columns in order, however wild the figures', () => {
  const figures = fc.array(fc.double({ min: -1000, max: 1000, noNaN: true }), { minLength: 1, maxLength: 60 });
  fc.assert(
    fc.property(figures, (values) => {
      const { place } = rulerScale(-23, -18, values, 'LUFS');
      const { columns, lowest, median, highest } = spreadOf(values, place, 150)!;
      expect(columns.every(({ x, share: own }) => x > 0 && x < 151 && own > 0 && own <= 1)).toBe(true);
      expect(columns.map(({ x }) => x)).toEqual(columns.map(({ x }) => x).toSorted((a, b) => a - b));
      expect(columns.some((one) => one.share === 1)).toBe(true);
      expect(lowest <= median && median <= highest).toBe(true);
    }),
  );
});
