import fc from 'fast-check';
import { cut } from '../signal/memory.ts';
import { framesOf } from '../signal/signal.ts';
import { joined, levelDb, noise, sine } from '../testing/index.ts';
import { RoomToneFill } from './room-tone-fill.ts';
import { type Filling, type Splice, Splicer } from './splice.ts';
import { toSource } from './time-map.ts';

const RATE = 16_000;

function spliced(input: Float32Array, splices: readonly Splice[], blockFrames = 1000) {
  const splicer = new Splicer(splices, { sampleRateHz: RATE, channels: 1 }, input.length);
  const parts: Float32Array[] = [];
  for (const block of cut([input], blockFrames)) for (const [part] of splicer.process(block)) parts.push(part.slice());
  for (const [part] of splicer.flush()) parts.push(part.slice());
  return { output: joined(...parts), map: splicer.map };
}
const constant = (value: number, frames: number): Filling => ({
  frames,
  take: (count) => [new Float32Array(count).fill(value)],
});
const at = (startSeconds: number, endSeconds: number, filling?: Filling): Splice => ({
  startFrame: Math.round(startSeconds * RATE),
  endFrame: Math.round(endSeconds * RATE),
  ...(filling && { filling }),
});

/** Splices in order, apart or touching, anywhere from the first frame to the last. */
const someSplices = fc
  .array(fc.tuple(fc.nat(4000), fc.nat(4000), fc.option(fc.integer({ min: 1, max: 6000 }))), { maxLength: 6 })
  .map((gaps) => {
    let frame = 0;
    return gaps.map(([apart, length, filled]): Splice => {
      const startFrame = frame + apart;
      frame = startFrame + length;
      return { startFrame, endFrame: frame, ...(filled && { filling: constant(0.25, filled) }) };
    });
  });

it('lengths are to the frame, and what is not near a join is the source\u2019s own sample, however blocks are cut', () => {
  fc.assert(
    fc.property(someSplices, fc.integer({ min: 1, max: 9000 }), fc.nat(3000), (splices, blockFrames, rest) => {
      const frames = (splices.at(-1)?.endFrame ?? 0) + rest;
      const input = Float32Array.from({ length: frames }, (_, i) => i / 2 ** 20);
      const { output, map } = spliced(input, splices, blockFrames);
      const longer = splices.reduce(
        (sum, one) => sum + (one.filling?.frames ?? 0) - (one.endFrame - one.startFrame),
        0,
      );
      expect(output.length).toBe(frames + longer);
      expect(output.every(Number.isFinite)).toBe(true);
      expect(spliced(input, splices, 64).output).toEqual(output);
      // a fortieth of a second round every join may be its own
      const near = 0.04 * RATE;
      for (let i = 0; i < output.length; i += 37) {
        const frame = Math.round(toSource(map, i / RATE) * RATE);
        const isNear = splices.some(
          ({ startFrame, endFrame }) => frame >= startFrame - near && frame <= endFrame + near,
        );
        if (!isNear) expect(output[i]).toBe(input[frame]);
      }
    }),
    { numRuns: 60 },
  );
});

it('a join has the room\u2019s level, and where both sides are one steady tone it goes where they fit', () => {
  const room = noise(0.01, 6, RATE);
  const cutOut = spliced(room, [at(2, 4)]).output;
  const level = levelDb(cutOut.subarray(1.99 * RATE, 2.01 * RATE));
  expect(Math.abs(level - levelDb(room))).toBeLessThan(1);
  // 113.7 Hz does not come round in 2 s: the join finds the place within 10 ms where it does
  const tone = sine(113.7, 0.5, 6, RATE);
  const { output } = spliced(tone, [at(2, 4.003)]);
  const step = (samples: Float32Array) =>
    samples.reduce(
      (most, x, i) => (i < 2 ? most : Math.max(most, Math.abs(x - 2 * samples[i - 1] + samples[i - 2]))),
      0,
    );
  expect(step(output)).toBeLessThan(1.3 * step(tone));
  expect(Math.max(...output)).toBeLessThan(0.53);
  expect(output.length).toBe(tone.length - Math.round(4.003 * RATE) + 2 * RATE);
});

it('a filling is heard in its place, as long as it is wanted, over either end too', () => {
  const input = new Float32Array(3 * RATE).fill(0.1);
  const middle = spliced(input, [at(1, 1, constant(0.5, RATE / 2))]).output;
  expect(middle.length).toBe(3.5 * RATE);
  expect([middle[0.98 * RATE], middle[1.25 * RATE], middle[1.52 * RATE]].map((x) => Number(x.toFixed(3)))).toEqual([
    0.1, 0.5, 0.1,
  ]);
  const ends = spliced(input, [at(0, 0, constant(0.5, RATE)), at(3, 3, constant(0.5, RATE))]).output;
  expect(ends.length).toBe(5 * RATE);
  expect([
    ends[0],
    ends[0.99 * RATE],
    ends[1.03 * RATE],
    ends[3.97 * RATE],
    ends[4.01 * RATE],
    ends[5 * RATE - 1],
  ]).toEqual([0.5, 0.5, 0.1, 0.1, 0.5, 0.5].map(Math.fround));
  // all of it
  expect(spliced(input, [at(0, 3, constant(0.5, 100))]).output).toEqual(new Float32Array(100).fill(0.5));
  expect(spliced(input, [at(0, 3)]).output.length).toBe(0);
});

it('room tone has no loop and no seam, and is the same whether it is taken at once or bit by bit', () => {
  const stretch = noise(0.01, 1.5, RATE, 5);
  const whole = new RoomToneFill([[stretch]], 1, RATE).take(20 * RATE)[0];
  const bits = new RoomToneFill([[stretch]], 1, RATE);
  const parts: Float32Array[] = [];
  for (let left = 20 * RATE; left > 0; left -= 997) parts.push(bits.take(Math.min(997, left))[0]);
  expect(joined(...parts)).toEqual(whole);
  for (let s = 0; s < 20; s += 0.5)
    expect(Math.abs(levelDb(whole.subarray(s * RATE, (s + 0.5) * RATE)) - levelDb(stretch))).toBeLessThan(1.5);
  expect(framesOf(new RoomToneFill([], 2, RATE).take(50))).toBe(50);
});
