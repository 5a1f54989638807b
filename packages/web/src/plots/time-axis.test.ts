import { moved, secondsAt, shareAt, timeTicks, zoomed } from './time-axis.ts';

const WHOLE = { fromSeconds: 0, toSeconds: 100 };

it('marks round moments, far enough apart to be read', () => {
  expect(timeTicks(WHOLE, 1000).map(({ seconds }) => seconds)).toEqual([0, 10, 20, 30, 40, 50, 60, 70, 80, 90, 100]);
  expect(timeTicks({ fromSeconds: 1, toSeconds: 1.02 }, 1000).at(1)).toEqual({ seconds: 1.002, decimals: 3 });
});

it('keeps the moment under the pointer where it is', () => {
  const near = zoomed(WHOLE, 30, 0.1, 100);
  expect(near).toEqual({ fromSeconds: 27, toSeconds: 37 });
  expect(shareAt(near, 30)).toBeCloseTo(0.3, 12);
});

it('stays inside the recording, and comes no closer than a millisecond', () => {
  expect(zoomed(WHOLE, 0, 5, 100)).toEqual(WHOLE);
  expect(zoomed({ fromSeconds: 5, toSeconds: 5.002 }, 5, 0.001, 100).toSeconds).toBeCloseTo(5.001, 9);
  expect(moved({ fromSeconds: 90, toSeconds: 100 }, 50, 100)).toEqual({ fromSeconds: 90, toSeconds: 100 });
  expect(moved({ fromSeconds: 10, toSeconds: 20 }, -50, 100)).toEqual({ fromSeconds: 0, toSeconds: 10 });
});

it('reads a place as a moment and back', () => {
  expect(shareAt(WHOLE, secondsAt(WHOLE, 0.37))).toBeCloseTo(0.37, 12);
});
