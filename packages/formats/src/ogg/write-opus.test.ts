import { execFileSync } from 'node:child_process';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { babble, sine } from '@tonos/core/testing';
import { ByteWriter } from '../bytes/byte-writer.ts';
import { openAudio } from '../open-audio.ts';
import type { DeliveryNotes } from '../tags/delivery-notes.ts';
import { readNotes } from '../tags/read-notes.ts';
import { writeOpus } from './write-opus.ts';

const RATE = 48000;
let folder: string;
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'tonos-opus-'));
});
afterEach(() => rm(folder, { recursive: true }));

async function written(channels: Float32Array[], notes?: DeliveryNotes, bitrateKbps = 96): Promise<string> {
  const path = join(folder, 'out.opus');
  const bytes = await ByteWriter.create(path);
  const writer = await writeOpus(bytes, {
    format: { sampleRateHz: RATE, channels: channels.length },
    bitrateKbps,
    notes,
  });
  for (let at = 0; at < channels[0].length; at += 5000)
    await writer.write(channels.map((channel) => channel.subarray(at, at + 5000)));
  await writer.finish();
  await bytes.close();
  return path;
}

async function decoded(path: string): Promise<Float32Array[]> {
  const file = await openAudio(path);
  const blocks: Float32Array[][] = [];
  for await (const block of file.blocks()) blocks.push(block.map((channel) => channel.slice()));
  await file.close();
  expect(file.damage).toEqual([]);
  return blocks[0].map((_, c) => Float32Array.from(blocks.flatMap((block) => [...block[c]])));
}

/** Level of what differs, against the level of the sound. */
function errorDb(output: Float32Array, input: Float32Array): number {
  let [error, energy] = [0, 0];
  for (let i = 0; i < input.length; i++) {
    error += (output[i] - input[i]) ** 2;
    energy += input[i] ** 2;
  }
  return 10 * Math.log10(error / energy);
}

it.each([1, 959, 960, 961, 48000, 50 * 960, 50 * 960 - 312, 150_001])(
  'keeps a length of %d frames exactly',
  async (frames) => {
    const [output] = await decoded(await written([sine(440, 0.3, 4, RATE).subarray(0, frames)]));
    expect(output.length).toBe(frames);
  },
);

it('keeps every sound in its place and on its side', async () => {
  const sides = [sine(440, 0.3, 2, RATE), sine(660, 0.2, 2, RATE)];
  const output = await decoded(await written(sides, undefined, 160));
  // a shift by one sample would leave an error of -25 dB at 440 Hz
  sides.forEach((side, c) => {
    expect(errorDb(output[c].subarray(4800, 90000), side.subarray(4800, 90000))).toBeLessThan(-30);
  });
});

it('carries its notes', async () => {
  const path = await written([babble(2, RATE)], {
    software: 'Tonos 1',
    title: 'Harbour at night \u2013 f\u00fcnf',
    track: 3,
    chapters: [{ title: 'The quay', startSeconds: 1.25 }],
  });
  expect((await readNotes(path)).tags).toMatchObject({ title: 'Harbour at night \u2013 f\u00fcnf', track: 3 });
  const text = (await readFile(path)).toString('utf8');
  expect(text).toContain('CHAPTER001=00:00:01.250');
  expect(text).toContain('CHAPTER001NAME=The quay');
});

it('is found sound by an independent checker', async () => {
  const report = execFileSync('/usr/bin/opusinfo', [await written([babble(3, RATE)])], { encoding: 'utf8' });
  expect(report).toMatch(/Playback length: 0m:03\.000s/);
  expect(report).not.toMatch(/WARNING|ERROR/i);
});

it('refuses what Opus can\u2019t hold, saying what to do', async () => {
  const three = [0, 1, 2].map(() => new Float32Array(10));
  await expect(written(three)).rejects.toThrow(/1 or 2 channels, not 3/);
});
