import { spawnSync } from 'node:child_process';
import { mkdtemp, open, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { sine } from '@tonos/core/testing';
import type { ByteWriter } from '../bytes/byte-writer.ts';
import { openAudio } from '../open-audio.ts';
import { readNotes } from '../tags/read-notes.ts';
import { writeWav } from './write-wav.ts';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'tonos-wav-'));
});
afterAll(() => rm(folder, { recursive: true }));

const FORMAT = { sampleRateHz: 48000, channels: 8 };
/** Fifty minutes of eight channels of 32 bits: more than 2^32 bytes. */
const FRAMES = 3000 * 48000;
const NOTES = { software: 'Tonos test', title: 'Long night', date: '2026-11-26T00:00:00Z', timeReferenceSeconds: 3600 };

/** Takes bytes to where they belong but leaves out what lies between: the file system keeps a hole there. */
async function sparse(path: string) {
  const handle = await open(path, 'wx+');
  let size = 0;
  const put = async (bytes: Uint8Array, at: number) => void (await handle.write(bytes, 0, bytes.length, at));
  const writer = {
    get size() {
      return size;
    },
    write: async (bytes: Uint8Array) => {
      await put(bytes, size);
      size += bytes.length;
    },
    patch: async (at: number, bytes: Uint8Array) => put(bytes, at),
  };
  return { writer: writer as unknown as ByteWriter, skip: (bytes: number) => (size += bytes), handle };
}

const tone = sine(1000, 0.5, 0.1, 48000);
const block = Array.from({ length: 8 }, (_, c) => tone.map((x) => x / (c + 1)));

it('becomes RF64 beyond 4 GiB, with its bext in place, read to the last frame by us and by FFmpeg', async () => {
  const path = join(folder, 'long.wav');
  const { writer, skip, handle } = await sparse(path);
  const wav = await writeWav(writer, { format: FORMAT, bitDepth: 32, notes: NOTES });
  await wav.write(block);
  skip((FRAMES - 2 * tone.length) * 8 * 4);
  await wav.write(block);
  await wav.finish();
  await handle.close();

  const audio = await openAudio(path, 'long.wav');
  expect(audio.frames).toBe(FRAMES);
  expect(audio.facts).toMatchObject({ container: 'rf64', codec: 'float' });
  expect(audio.damage).toEqual([]);
  for (const from of [0, FRAMES - tone.length]) {
    const read = await audio.readFrames!(from, tone.length);
    expect(read[2]).toEqual(block[2]);
  }
  const [between] = await audio.readFrames!(FRAMES / 2, 100);
  expect(between.every((x) => x === 0)).toBe(true);
  await audio.close();
  const { tags } = await readNotes(path);
  expect(tags).toMatchObject({ timeReferenceSeconds: 3600, description: expect.stringContaining('Long night') });

  const { stdout } = spawnSync('/usr/bin/ffprobe', [
    '-v',
    'error',
    '-show_streams',
    '-show_format',
    '-of',
    'json',
    path,
  ]);
  const { streams, format } = JSON.parse(String(stdout));
  expect(Number(streams[0].duration)).toBeCloseTo(FRAMES / 48000, 5);
  expect(streams[0].channels).toBe(8);
  expect(format.tags.time_reference).toBe(String(3600 * 48000));
});

it('stays RIFF below 4 GiB', async () => {
  const path = join(folder, 'short.wav');
  const { writer, handle } = await sparse(path);
  const wav = await writeWav(writer, { format: FORMAT, bitDepth: 24, notes: NOTES });
  await wav.write(block);
  await wav.finish();
  await handle.close();
  const audio = await openAudio(path, 'short.wav');
  expect(audio.facts.container).toBe('wav');
  expect(audio.frames).toBe(tone.length);
  await audio.close();
});
