import fc from 'fast-check';
import { applyFades, FADE_SHAPES, type FadeShape, fittedFades, riseAt } from './fades.ts';

const faded = (frames: number, into: number, out: number, shape: FadeShape, blockFrames = frames): Float32Array => {
  const signal = new Float32Array(frames).fill(1);
  for (let at = 0; at < frames; at += blockFrames)
    applyFades([signal.subarray(at, at + blockFrames)], at, frames, { frames: into, shape }, { frames: out, shape });
  return signal;
};

it('rises by its shape: straight, as a sine whose square and its mirror make one, as a raised cosine', () => {
  const half = (shape: FadeShape) => riseAt(shape, 0.5);
  expect(FADE_SHAPES.map(half).map((gain) => Number(gain.toFixed(6)))).toEqual([
    0.5,
    Number(Math.SQRT1_2.toFixed(6)),
    0.5,
  ]);
  expect(riseAt('s-curve', 0.25)).toBeCloseTo((1 - Math.SQRT1_2) / 2, 9);
  fc.assert(
    fc.property(fc.double({ min: 0, max: 1, noNaN: true }), (share) => {
      expect(riseAt('equal-power', share) ** 2 + riseAt('equal-power', 1 - share) ** 2).toBeCloseTo(1, 9);
      expect(riseAt('s-curve', share) + riseAt('s-curve', 1 - share)).toBeCloseTo(1, 9);
    }),
  );
  expect([riseAt('linear', -1), riseAt('linear', 2)]).toEqual([0, 1]);
});

it('is the same however blocks are cut, and leaves what lies between the fades as it was', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 500 }),
      fc.integer({ min: 0, max: 300 }),
      fc.integer({ min: 0, max: 300 }),
      fc.integer({ min: 1, max: 200 }),
      fc.constantFrom(...FADE_SHAPES),
      (frames, into, out, blockFrames, shape) => {
        const whole = faded(frames, into, out, shape);
        expect(faded(frames, into, out, shape, blockFrames)).toEqual(whole);
        for (let i = into; i < frames - out; i++) expect(whole[i]).toBe(1);
        if (into > 0) expect(whole[0]).toBe(0);
        if (out > 0) expect(whole[frames - 1]).toBe(0);
      },
    ),
  );
});

it('fades that would meet are shortened alike; a signal without a known end only rises', () => {
  const over = (frames: number) => ({ frames, shape: 'linear' as const });
  expect(fittedFades(over(30), over(10), 20).map(({ frames }) => frames)).toEqual([15, 5]);
  expect(fittedFades(over(30), over(10), 100).map(({ frames }) => frames)).toEqual([30, 10]);
  expect(fittedFades(over(0), over(0), 10).map(({ frames }) => frames)).toEqual([0, 0]);
  const signal = new Float32Array(10).fill(1);
  applyFades([signal], 0, Number.POSITIVE_INFINITY, over(4), over(4));
  expect([...signal]).toEqual([0, 0.25, 0.5, 0.75, 1, 1, 1, 1, 1, 1]);
});
