import { takeNumber } from './take-number.ts';

it.each<[number | string, number | undefined]>([
  [5, 5],
  ['5', 5],
  ['9.0', 9], // its zero is still being typed
  ['-2.5', -2.5],
  ['', undefined],
  ['-', undefined],
  ['abc', undefined],
  [10.01, undefined],
  ['-3.1', undefined],
  [Number.NaN, undefined],
  [10, 10],
  [-3, -3],
])('of %j in -3 to 10 takes %j', (typed, taken) => {
  let got: number | undefined;
  takeNumber(typed, -3, 10, (value) => {
    got = value;
  });
  expect(got).toBe(taken);
});
