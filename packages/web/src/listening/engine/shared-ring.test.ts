import fc from 'fast-check';
import { framesBetween, RING_FRAMES, ringMemory, SharedRing } from './shared-ring.ts';
import { toStereo } from './to-stereo.ts';

const QUANTUM = 128;

/** A ring as both threads have it: one memory, two views. */
function pair() {
  const memory = ringMemory();
  return { writer: new SharedRing(memory), reader: new SharedRing(memory) };
}

function quantum(reader: SharedRing, sounding: boolean) {
  const [left, right] = [new Float32Array(QUANTUM), new Float32Array(QUANTUM)];
  const sounds = reader.readQuantum(left, right, sounding);
  return { left, right, sounds };
}

const count = (from: number, frames: number) => Float32Array.from({ length: frames }, (_, i) => from + i);

it('gives back what was written, in order, over many turns of the ring', () => {
  const { writer, reader } = pair();
  writer.playing = true;
  let written = 0;
  let read = 0;
  while (read < 5 * RING_FRAMES) {
    while (RING_FRAMES - writer.ahead >= 1000) {
      const some = count(written, 1000);
      writer.write(some, some, 1);
      written += 1000;
    }
    const { left, sounds } = quantum(reader, true);
    expect(sounds).toBe(true);
    expect(left[0]).toBe(read);
    expect(left[QUANTUM - 1]).toBe(read + QUANTUM - 1);
    read += QUANTUM;
  }
});

it('counts on over the end of 32 bits', () => {
  expect(framesBetween(2 ** 31 - 1, -(2 ** 31) + 9)).toBe(10);
  expect(framesBetween(-5, 7)).toBe(12);
});

it('turns both sides by the gain', () => {
  const { writer, reader } = pair();
  writer.playing = true;
  writer.write(new Float32Array(QUANTUM).fill(0.5), new Float32Array(QUANTUM).fill(-0.25), 0.5);
  const { left, right } = quantum(reader, true);
  expect([...new Set(left)]).toEqual([0.25]);
  expect([...new Set(right)]).toEqual([-0.125]);
});

it('begins softly after silence, ends softly at a pause, and never steps', () => {
  const { writer, reader } = pair();
  writer.write(new Float32Array(4 * QUANTUM).fill(1), new Float32Array(4 * QUANTUM).fill(1), 1);
  expect(quantum(reader, false)).toMatchObject({ sounds: false });
  writer.playing = true;
  const first = quantum(reader, false);
  expect(first.sounds).toBe(true);
  const second = quantum(reader, true);
  writer.playing = false;
  const third = quantum(reader, true);
  expect(third.sounds).toBe(false);
  const heard = [...first.left, ...second.left, ...third.left, ...quantum(reader, false).left];
  heard.slice(1).forEach((x, i) => expect(Math.abs(x - heard[i])).toBeLessThan(2 / QUANTUM));
  expect(Math.max(...heard)).toBe(1);
  expect(heard.at(-1)).toBe(0);
});

it('goes at once to what is written after a jump, softly', () => {
  const { writer, reader } = pair();
  writer.playing = true;
  writer.write(new Float32Array(2000).fill(0.5), new Float32Array(2000).fill(0.5), 1);
  quantum(reader, false);
  quantum(reader, true);
  writer.jump();
  expect(writer.jumpPending).toBe(true);
  expect(writer.ahead).toBe(0); // all that waits is given up
  writer.write(new Float32Array(2000).fill(-0.5), new Float32Array(2000).fill(-0.5), 1);
  const fading = quantum(reader, true);
  expect(fading.sounds).toBe(false);
  expect(writer.jumpPending).toBe(false);
  const after = quantum(reader, false);
  expect(after.left.every((x) => x <= 0)).toBe(true);
  expect(after.left[QUANTUM - 1]).toBe(-0.5);
  const heard = [...fading.left, ...after.left];
  heard.slice(1).forEach((x, i) => expect(Math.abs(x - heard[i])).toBeLessThan(2 / QUANTUM));
});

it('is silent where nothing has come in time, and goes on when it has', () => {
  const { writer, reader } = pair();
  writer.playing = true;
  writer.write(new Float32Array(50).fill(1), new Float32Array(50).fill(1), 1);
  const short = quantum(reader, true);
  expect(short.sounds).toBe(false);
  expect([...short.left.slice(50)].every((x) => x === 0)).toBe(true);
  writer.write(new Float32Array(QUANTUM).fill(1), new Float32Array(QUANTUM).fill(1), 1);
  expect(quantum(reader, false).left[QUANTUM - 1]).toBe(1);
});

describe('any layout for two ears', () => {
  it('leaves one and two channels as they are', () => {
    const [a, b] = [count(0, 4), count(4, 4)];
    expect(toStereo([a])).toEqual([a, a]);
    expect(toStereo([a, b])).toEqual([a, b]);
  });

  it('never clips together, and is the same on both sides for the same sound everywhere', () => {
    fc.assert(
      fc.property(fc.integer({ min: 3, max: 8 }), (channels) => {
        const full = Array.from({ length: channels }, () => new Float32Array(8).fill(1));
        const [left, right] = toStereo(full);
        for (const x of [...left, ...right]) expect(x).toBeLessThanOrEqual(1 + 1e-6);
        expect(left[0]).toBeCloseTo(right[0], 6);
      }),
    );
  });

  it('hears left on the left, right on the right, the centre on both 3 dB down, and no LFE', () => {
    const only = (channel: number) =>
      toStereo(Array.from({ length: 6 }, (_, c) => new Float32Array(1).fill(c === channel ? 1 : 0))).map(
        (side) => side[0],
      );
    const [left, right, centre, lfe] = [only(0), only(1), only(2), only(3)];
    expect(left[1]).toBe(0);
    expect(right[0]).toBe(0);
    expect(right[1]).toBe(left[0]);
    expect(centre[0] / left[0]).toBeCloseTo(Math.SQRT1_2, 6);
    expect(centre[1]).toBe(centre[0]);
    expect(lfe).toEqual([0, 0]);
  });
});
