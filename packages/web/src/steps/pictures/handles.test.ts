import { hertzAtShare, shareOfHertz } from './frequency-axis.ts';
import { handlesOf } from './handles.ts';

const step = (kind: string, settings: Record<string, unknown>) => ({ id: 's', kind, on: true, mix: 1, settings });

it('gives a band its point, and moves nothing else with it', () => {
  const bands = [
    { shape: 'bell', frequencyHz: 240, gainDb: -3, q: 1, on: true },
    { shape: 'bell', frequencyHz: 900, gainDb: 1, q: 2, on: false },
    { shape: 'notch', frequencyHz: 50, gainDb: 7, q: 9, on: true },
  ];
  const handles = handlesOf(step('parametric-eq', { bands }));
  expect(handles.map(({ label, movesGain }) => [label, movesGain])).toEqual([
    ['Band 1', true],
    ['Band 3', false],
  ]);
  expect(handles[0].moved(300, -5)).toEqual({
    bands: [{ ...bands[0], frequencyHz: 300, gainDb: -5 }, bands[1], bands[2]],
  });
  // a notch has no gain to move
  expect(handles[1].moved(60, 4)).toEqual({ bands: [bands[0], bands[1], { ...bands[2], frequencyHz: 60 }] });
});

it('takes hold of a cut at its corner, 3 dB down, and of nothing in steps without a response', () => {
  const [corner] = handlesOf(step('high-pass', {}));
  expect([corner.frequencyHz, corner.gainDb]).toEqual([80, -3.01]);
  expect(corner.moved(100, 0)).toEqual({ frequencyHz: 100, slopeDbPerOctave: 24 });
  expect(handlesOf(step('compressor', {}))).toEqual([]);
});

it('has an axis of three decades, and frequencies of three figures', () => {
  expect(shareOfHertz(20)).toBe(0);
  expect(shareOfHertz(20000)).toBeCloseTo(1, 12);
  expect(shareOfHertz(632.46)).toBeCloseTo(0.5, 5);
  expect([0, 0.5, 1, 2].map(hertzAtShare)).toEqual([20, 632, 20000, 20000]);
});
