import { takeNumber } from './take-number.ts';

it('takes a number that is typed once it lies in its range, its last zero included', () => {
  const taken: number[] = [];
  for (const typed of ['', '-', '9', '9.0', 12, 99]) takeNumber(typed, -24, 24, (value) => taken.push(value));
  expect(taken).toEqual([9, 9, 12]);
});

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
