import { matchGainDb } from './level-match.ts';
import type { ChainListening, Listened } from './listening-slice.ts';

const playable = (loudnessLufs: number | null) => ({
  track: { url: '', sampleRateHz: 48000, channels: 1, frames: 1, boxes: [] },
  overview: { recordingId: 'r' },
  loudnessLufs,
  seconds: 1,
});
const step = (id: string) => ({ id, kind: 'gain', on: true, mix: 1, settings: {} });
const chain: ChainListening = {
  steps: [step('a'), step('b'), step('c')],
  upTo: 'b',
  findings: {},
  findingsFromSeconds: 0,
  known: { marks: [] },
  sourceLufs: -20,
  afterLufs: { a: -18, b: -26, c: -15 },
};
const listened: Listened = { name: 'x', source: playable(-20), result: null, chain };

it('turns every side down to the quietest of source, so far and whole chain', () => {
  expect(matchGainDb(listened, 'source')).toBe(-6);
  expect(matchGainDb(listened, 'so-far')).toBe(0);
  expect(matchGainDb(listened, 'chain')).toBe(-11);
  // what a step takes away is quiet by its nature
  expect(matchGainDb(listened, 'removed')).toBe(0);
});

it('leaves levels alone while one of them is not known', () => {
  const unknown = { ...listened, chain: { ...chain, afterLufs: { a: -18, b: null, c: -15 } } };
  expect(matchGainDb(unknown, 'chain')).toBe(0);
});

describe('of a recording and its delivery', () => {
  const delivered = (source: number | null, result: number | null): Listened => ({
    name: '',
    source: playable(source),
    result: playable(result),
  });

  it('turns the louder side down to the quieter one', () => {
    expect(matchGainDb(delivered(-43.6, -19.4), 'result')).toBeCloseTo(-24.2, 6);
    expect(matchGainDb(delivered(-43.6, -19.4), 'source')).toBe(0);
    expect(matchGainDb(delivered(-12, -16), 'source')).toBe(-4);
  });

  it('leaves what has no loudness alone', () => expect(matchGainDb(delivered(null, -16), 'result')).toBe(0));
});
