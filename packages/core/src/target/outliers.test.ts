import { departures } from './outliers.ts';

it('finds the one that departs, in robust deviations from the median', () => {
  const found = departures([-60, -61, -60.5, -59.5, -48, -60.2], 2);
  expect(found.map(({ index }) => index)).toEqual([4]);
  // median of the six: -60.1; deviations 0.1 0.9 0.4 0.6 12.1 0.1, their median 0.5
  expect(found[0].median).toBeCloseTo(-60.1, 9);
  expect(found[0].deviations).toBeCloseTo(12.1 / (1.4826 * 0.5), 6);
});

it('finds none among what is even, or differs too little to be heard', () => {
  expect(departures([1, 2, 3, 4, 5, 6], 0.1)).toEqual([]);
  expect(departures([-20, -20, -20, -20, -19], 2)).toEqual([]);
  expect(departures([-20, -20, -20, -20, -17], 2)).toHaveLength(1);
});

it('is not moved by several at once, leaves out what has no value, and says nothing of a few', () => {
  expect(departures([0, 0.1, -0.1, 0.05, 30, 31, null], 1).map(({ index }) => index)).toEqual([4, 5]);
  expect(departures([0, 0, 9], 1)).toEqual([]);
});
