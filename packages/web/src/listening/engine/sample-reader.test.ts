import type { Block } from '@tonos/core';
import type { Track } from './messages.ts';
import { CHUNK_FRAMES, SampleReader } from './sample-reader.ts';

const track = (frames: number, url = '/a'): Track => ({ url, sampleRateHz: 48000, channels: 1, frames, boxes: [] });

/** Samples that are their own place; what was asked for is noted. */
function counted(fail: (from: number) => boolean = () => false) {
  const asked: number[] = [];
  const reader = new SampleReader(async ({ frames: all }, from, frames): Promise<Block> => {
    asked.push(from);
    if (fail(from)) throw new Error('The line is down.');
    return [Float32Array.from({ length: Math.min(frames, all - from) }, (_, i) => from + i)];
  });
  return { reader, asked };
}

it('gives samples from where they are, and no more than a chunk holds', async () => {
  const { reader } = counted();
  const long = track(5 * CHUNK_FRAMES);
  const [near] = await reader.read(long, 100, 50);
  expect([near[0], near.length]).toEqual([100, 50]);
  const [atEdge] = await reader.read(long, CHUNK_FRAMES - 10, 50);
  expect([atEdge[0], atEdge.length]).toEqual([CHUNK_FRAMES - 10, 10]);
  const [last] = await reader.read(track(CHUNK_FRAMES + 7, '/b'), CHUNK_FRAMES + 2, 50);
  expect(last).toHaveLength(5);
});

it('fetches a chunk once, the next one ahead, and none beyond the end', async () => {
  const { reader, asked } = counted();
  const two = track(2 * CHUNK_FRAMES);
  for (let at = 0; at < CHUNK_FRAMES; at += 1000) await reader.read(two, at, 1000);
  expect(asked).toEqual([0, CHUNK_FRAMES]);
  await reader.read(two, CHUNK_FRAMES + 5, 1000);
  expect(asked).toEqual([0, CHUNK_FRAMES]);
});

it('keeps tracks apart, and forgets those that were read longest ago', async () => {
  const { reader, asked } = counted();
  await reader.read(track(CHUNK_FRAMES, '/first'), 0, 10);
  for (let i = 0; i < 60; i++) await reader.read(track(CHUNK_FRAMES, `/other ${i}`), 0, 10);
  expect(asked).toHaveLength(61);
  await reader.read(track(CHUNK_FRAMES, '/other 59'), 0, 10);
  expect(asked).toHaveLength(61);
  await reader.read(track(CHUNK_FRAMES, '/first'), 0, 10);
  expect(asked).toHaveLength(62);
});

it('tells a failed line where it is read, and tries again the next time', async () => {
  let down = true;
  const { reader } = counted((from) => down && from === CHUNK_FRAMES);
  const long = track(4 * CHUNK_FRAMES);
  // the chunk ahead fails unseen
  await expect(reader.read(long, 0, 10)).resolves.toHaveLength(1);
  await expect(reader.read(long, CHUNK_FRAMES, 10)).rejects.toThrow('The line is down.');
  down = false;
  expect((await reader.read(long, CHUNK_FRAMES, 10))[0][0]).toBe(CHUNK_FRAMES);
});

it('takes what is no number for silence', async () => {
  const reader = new SampleReader(async () => [Float32Array.from([0.5, Number.NaN, Number.POSITIVE_INFINITY, -0.5])]);
  expect([...(await reader.read(track(4), 0, 4))[0]]).toEqual([0.5, 0, 0, -0.5]);
});
