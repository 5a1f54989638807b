import { execFile } from 'node:child_process';
import { mkdtemp, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { babble, joined, mixed, noise, sine } from '@tonos/core/testing';
import { ByteWriter } from '../bytes/byte-writer.ts';
import { openAudio } from '../open-audio.ts';
import { writeFlac } from './write-flac.ts';

let folder: string;
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'tonos-flac-'));
});
afterEach(() => rm(folder, { recursive: true }));

async function written(channels: Float32Array[], sampleRateHz: number, bitDepth: 16 | 24): Promise<string> {
  const path = join(folder, 'out.flac');
  const bytes = await ByteWriter.create(path);
  const writer = await writeFlac(bytes, { format: { sampleRateHz, channels: channels.length }, bitDepth });
  for (let at = 0; at < channels[0].length; at += 5000)
    await writer.write(channels.map((channel) => channel.subarray(at, at + 5000)));
  await writer.finish();
  await bytes.close();
  return path;
}

/** Largest difference from what was written. */
async function error(path: string, channels: readonly Float32Array[]): Promise<number> {
  const file = await openAudio(path);
  let at = 0;
  let largest = 0;
  for await (const block of file.blocks()) {
    block.forEach((channel, c) => {
      for (let i = 0; i < channel.length; i++) largest = Math.max(largest, Math.abs(channel[i] - channels[c][at + i]));
    });
    at += block[0].length;
  }
  await file.close();
  expect(file.damage).toEqual([]); // its MD5 is right
  expect(at).toBe(channels[0].length);
  return largest;
}

const RATE = 44100;
const voice = mixed(
  babble(3, RATE).map((x) => 0.5 * x),
  noise(0.001, 3, RATE),
);

it.each([
  ['a voice', 16, [voice]],
  ['a voice on both sides, which middle and side suit', 24, [voice, voice.map((x) => 0.9 * x)]],
  ['sides that differ', 16, [voice, noise(0.1, 3, RATE)]],
  [
    'noise at full scale, which nothing foretells',
    24,
    [noise(0.5, 2, RATE).map((x) => Math.max(-0.999, Math.min(0.999, x)))],
  ],
  ['silence, then a tone', 24, [joined(new Float32Array(10_000), sine(1000, 0.9, 1, RATE))]],
  ['six channels', 16, [1, 2, 3, 4, 5, 6].map((seed) => noise(0.1, 0.5, RATE, seed))],
  ['one frame', 24, [new Float32Array([0.25])]],
  ['four frames', 16, [new Float32Array([0.25, -0.5, 0.1, 0])]],
] as const)('writes %s at %d bits, to be read within the dither', async (_, bitDepth, channels) => {
  const path = await written([...channels], RATE, bitDepth);
  // half a step of rounding and up to one of dither
  expect(await error(path, channels)).toBeLessThanOrEqual(1.51 / 2 ** (bitDepth - 1));
});

it('takes less room than the samples would', async () => {
  const path = await written([voice, voice], RATE, 16);
  expect((await stat(path)).size).toBeLessThan(0.6 * voice.length * 4);
});

it('is accepted by the reference decoder', async () => {
  const path = await written([voice, noise(0.1, 3, RATE)], RATE, 24);
  await expect(promisify(execFile)('flac', ['--test', '--silent', path])).resolves.toBeDefined();
});
