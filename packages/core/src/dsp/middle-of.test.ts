import fc from 'fast-check';
import { middleOf } from './middle-of.ts';

it('is the value that a sort puts in the middle', () => {
  fc.assert(
    fc.property(fc.array(fc.double({ noNaN: true }), { minLength: 1, maxLength: 200 }), (values) => {
      const sorted = values.slice().sort((a, b) => a - b);
      expect(middleOf(Float64Array.from(values)) === sorted[values.length >> 1]).toBe(true);
    }),
  );
});

it.each([
  ['all alike', new Array(999).fill(3)],
  ['rising', Array.from({ length: 1000 }, (_, i) => i)],
  ['falling', Array.from({ length: 1001 }, (_, i) => -i)],
])('of values that are %s', (_, values) => {
  expect(middleOf(Float64Array.from(values))).toBe([...values].sort((a, b) => a - b)[values.length >> 1]);
});
