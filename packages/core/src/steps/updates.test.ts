import { cut } from '../signal/memory.ts';
import { type Block, copyBlock } from '../signal/signal.ts';
import { noise, sine } from '../testing/index.ts';
import { gainReductionDb } from './compressor/gain-computer.ts';
import { stepOfKind } from './index.ts';

/** Settings that change while sound runs: no click, and where they lead to. */

const RATE = 48000;
const FORMAT = { sampleRateHz: RATE, channels: 1 };

/** Runs a step and changes its settings after a second of two. */
function changed(
  kind: string,
  before: Record<string, unknown>,
  after: Record<string, unknown>,
  input: Block,
): Float32Array {
  const { settings, start } = stepOfKind(kind)!;
  const processor = start(settings.parse(before), FORMAT, {});
  const out = copyBlock(input);
  for (const [i, block] of [...cut(out, 480)].entries()) {
    if (i === 100) processor.update(settings.parse(after));
    processor.process(block);
  }
  return out[0];
}

const largestStep = (samples: Float32Array) =>
  samples.reduce((most, x, i) => (i ? Math.max(most, Math.abs(x - samples[i - 1])) : 0), 0);

it.each<[string, Record<string, unknown>, Record<string, unknown>]>([
  ['gain', { gainDb: 0 }, { gainDb: -40 }],
  ['gain', { gainDb: 0 }, { gainDb: 0, invertPolarity: true }],
  ['high-pass', { frequencyHz: 40 }, { frequencyHz: 2000 }],
  ['low-pass', { frequencyHz: 18000 }, { frequencyHz: 200 }],
  ['saturation', { driveDb: 0, character: 'odd' }, { driveDb: 24, character: 'odd' }],
  ['compressor', { thresholdDb: 0, attackMs: 0.1 }, { thresholdDb: -60, ratio: 20, attackMs: 0.1 }],
  ['compressor', { detector: 'rms', thresholdDb: -30 }, { detector: 'peak', thresholdDb: -30 }],
  ['limiter', { ceilingDbtp: 0 }, { ceilingDbtp: -20 }],
  ['limiter', { inputGainDb: 0 }, { inputGainDb: 24 }],
  ['noise-reduction', { method: 'adaptive', reductionDb: 0 }, { method: 'adaptive', reductionDb: 40 }],
  ['neural-noise-reduction', { strength: 0 }, { strength: 1 }],
  ['expander', { thresholdDb: 0, ratio: 20, rangeDb: 80, attackMs: 0.1 }, { thresholdDb: -60, attackMs: 0.1 }],
  ['expander', { thresholdDb: -60 }, { thresholdDb: 0, ratio: 20, rangeDb: 40 }],
  ['de-esser', { thresholdDb: 0 }, { thresholdDb: -60, rangeDb: 24 }],
  ['multiband-compressor', { crossoversHz: [100] }, { crossoversHz: [2000], bands: [{ thresholdDb: -60, ratio: 20 }] }],
  ['point-eq', { points: [] }, { points: [{ frequencyHz: 200, gainDb: -24 }] }],
  ['parametric-eq', { bands: [] }, { bands: [{ shape: 'bell', frequencyHz: 300, gainDb: -24, q: 2 }] }],
])('%s changes from %j to %j without a click: no step larger than tone and result make', (kind, before, after) => {
  const tone = sine(200, 0.5, 2, RATE);
  const steady = [before, after].map((settings) => largestStep(changed(kind, settings, settings, [tone])));
  // a fade of 20 ms over a difference of at most 1 adds pi / 2 / 960 a sample
  const most = Math.max(largestStep(tone), ...steady) + Math.PI / 2 / 960;
  expect(largestStep(changed(kind, before, after, [tone]))).toBeLessThan(most);
});

it('the width of stereo moves without a click', () => {
  const { settings, start } = stepOfKind('channels')!;
  const stereo = { mode: 'to-stereo' };
  const processor = start(settings.parse({ ...stereo, widthPercent: 200 }), { ...FORMAT, channels: 2 }, {});
  const tone = sine(200, 0.25, 2, RATE);
  const out: number[] = [];
  for (const [i, block] of [...cut([tone, tone.map((x) => -x)], 480)].entries()) {
    if (i === 100) processor.update(settings.parse({ ...stereo, widthPercent: 0 }));
    out.push(...processor.layOut!(block)[0]);
  }
  expect(Math.max(...out.slice(0, 40_000))).toBeCloseTo(0.5, 3);
  expect(Math.max(...out.slice(60_000))).toBeLessThan(1e-6);
  const most = largestStep(sine(200, 0.5, 1, RATE));
  expect(largestStep(Float32Array.from(out))).toBeLessThan(most + 1 / 960);
});

it('a change arrives: a gain of -40 dB is -40 dB after its ramp', () => {
  const out = changed('gain', { gainDb: 0 }, { gainDb: -40 }, [sine(200, 0.5, 2, RATE)]);
  expect(Math.max(...out.slice(1.5 * RATE))).toBeCloseTo(0.005, 4);
});

describe('the gain computer', () => {
  it('turns a -10 dBFS sine down by 5.33 dB at threshold -18 dB, ratio 3:1, hard knee', () => {
    expect(gainReductionDb(-10, -18, 3, 0)).toBeCloseTo(5.333, 3);
  });

  it('does nothing below the knee, and what the hard one does above it', () => {
    expect(gainReductionDb(-21, -18, 4, 6)).toBe(0);
    expect(gainReductionDb(-15, -18, 4, 6)).toBeCloseTo(gainReductionDb(-15, -18, 4, 0), 12);
  });

  it('bends without a corner: its slope grows evenly through the knee', () => {
    const slope = (level: number) =>
      (gainReductionDb(level + 0.01, -18, 4, 12) - gainReductionDb(level, -18, 4, 12)) / 0.01;
    for (let level = -24; level < -12; level += 0.5) expect(slope(level + 0.5)).toBeGreaterThan(slope(level));
    expect(slope(-11.5)).toBeCloseTo(0.75, 6);
  });

  it('leaves everything as it is at 1:1', () => {
    for (let level = -60; level <= 0; level += 5) expect(gainReductionDb(level, -30, 1, 6)).toBe(0);
  });
});

it('the limiter leaves what lies below its ceiling as it is, bit for bit', () => {
  const { settings, start } = stepOfKind('limiter')!;
  const processor = start(settings.parse({ ceilingDbtp: -1 }), FORMAT, {});
  const input = noise(0.05, 1, RATE);
  const out = input.slice();
  for (const block of cut([out], 777)) processor.process(block);
  const late = processor.latencyFrames;
  expect(out.subarray(late)).toEqual(input.subarray(0, input.length - late));
});
