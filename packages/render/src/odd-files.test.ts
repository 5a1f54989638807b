import { execFileSync } from 'node:child_process';
import { mkdtemp, readFile, rm, truncate, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Speaker, speakersOfMask } from '@tonos/core';
import { babble, noise, sine } from '@tonos/core/testing';
import { type AudioFile, ByteWriter, openAudio, readNotes, type WriterOptions, writeWav } from '@tonos/formats';
import { shortPage, writeOpus } from '@tonos/formats/testing';
import { DiskSpool } from './disk-spool.ts';
import { measureFile } from './measure-file.ts';

/** Files as recorders and taggers leave them. */

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'tonos-odd-'));
});
afterAll(() => rm(folder, { recursive: true }));

async function write(
  name: string,
  channels: Float32Array[],
  options: Omit<WriterOptions, 'format'> & { rate?: number; speakers?: readonly Speaker[] } = {},
): Promise<string> {
  const { rate = 48000, speakers, ...rest } = options;
  const path = join(folder, name);
  const bytes = await ByteWriter.create(path);
  const open = name.endsWith('.opus') ? writeOpus : writeWav;
  const writer = await open(bytes, { format: { sampleRateHz: rate, channels: channels.length, speakers }, ...rest });
  for (let at = 0; at < channels[0].length; at += 8192)
    await writer.write(channels.map((channel) => channel.subarray(at, at + 8192)));
  await writer.finish();
  await bytes.close();
  return path;
}

async function framesIn(file: AudioFile): Promise<{ frames: number; longest: number; rms: number }> {
  let [frames, longest, energy] = [0, 0, 0];
  for await (const [first] of file.blocks()) {
    frames += first.length;
    longest = Math.max(longest, first.length);
    for (const x of first) energy += x * x;
  }
  await file.close();
  return { frames, longest, rms: Math.sqrt(energy / frames) };
}

it.each([6, -12.5])('S15: an Opus file\u2019s output gain of %d dB is applied (RFC 7845, 5.1)', async (gainDb) => {
  const path = await write(`gain ${gainDb}.opus`, [sine(440, 0.1, 3, 48000)], { bitrateKbps: 96 });
  const plain = await framesIn(await openAudio(path));
  const bytes = await readFile(path);
  const packet = bytes.subarray(28, 28 + 19);
  packet.writeInt16LE(gainDb * 256, 16);
  const page = shortPage(packet, bytes.readUInt32LE(14), 0);
  bytes.set(page);
  await writeFile(path, bytes);
  const louder = await framesIn(await openAudio(path));
  expect(20 * Math.log10(louder.rms / plain.rms)).toBeCloseTo(gainDb, 3);
});

it('S15: FLAC behind an ID3v2 tag is read, with its own notes', async () => {
  const wav = await write('tagged.wav', [babble(2, 16000)], { rate: 16000, bitDepth: 16 });
  const path = join(folder, 'tagged.flac');
  execFileSync('flac', ['--silent', '-f', '-T', 'TITLE=Own', '-o', path, wav]);
  // ID3v2.4 with 300 bytes of padding: the size is written in seven bits a byte
  const tag = Buffer.alloc(310);
  tag.write('ID3');
  tag[3] = 4;
  tag[8] = 300 >> 7;
  tag[9] = 300 & 127;
  await writeFile(path, Buffer.concat([tag, await readFile(path)]));
  const file = await openAudio(path);
  expect(file.facts).toMatchObject({ codec: 'flac', sampleRateHz: 16000 });
  expect((await framesIn(file)).frames).toBe(32000);
  expect(file.damage).toEqual([]);
  expect((await readNotes(path)).tags.title).toBe('Own');
});

it('S15: an RF64 whose recorder lost its power is read to its end', async () => {
  const path = await write('power.wav', [noise(0.1, 2, 8000)], { rate: 8000, bitDepth: 16 });
  const bytes = await readFile(path);
  const samples = bytes.subarray(bytes.indexOf('data') + 8);
  const head = Buffer.alloc(12 + 36 + 24 + 8);
  head.write('RF64', 0, 'latin1');
  head.writeUInt32LE(0xffffffff, 4);
  head.write('WAVEds64', 8, 'latin1');
  head.writeUInt32LE(28, 16); // and 28 zeros: sizes that nobody came to write
  head.write('fmt ', 48, 'latin1');
  head.writeUInt32LE(16, 52);
  bytes.copy(head, 56, bytes.indexOf('fmt ') + 8, bytes.indexOf('fmt ') + 24);
  head.write('data', 72, 'latin1');
  head.writeUInt32LE(0xffffffff, 76);
  await writeFile(path, Buffer.concat([head, samples]));
  const { measurement } = await measureFile(path);
  expect(measurement).toMatchObject({ container: 'rf64', durationSeconds: 2 });
});

it('S13: a mask says where channels sound; none is guessed for four tracks', async () => {
  const tracks = Array.from({ length: 4 }, () => sine(1000, 0.05, 3, 48000));
  const path = await write('tracks.wav', tracks, { bitDepth: 24, speakers: speakersOfMask(0x33, 4) });
  const bytes = await readFile(path);
  const format = bytes.indexOf('fmt ') + 8;
  expect(bytes.readUInt16LE(format)).toBe(0xfffe);
  expect(bytes.readUInt32LE(format + 20)).toBe(0x33);
  const loudness = async (mask: number) => {
    bytes.writeUInt32LE(mask, format + 20);
    await writeFile(path, bytes);
    return (await measureFile(path)).measurement.integratedLufs!;
  };
  // -26.02 dBFS peak: -29.03 LUFS each; four alike +6.02, two of them behind 10 log10(2 + 2 x 1.41) = +6.83
  expect(Math.abs((await loudness(0)) - (-29.03 + 6.02))).toBeLessThan(0.05);
  expect(Math.abs((await loudness(0x33)) - (-29.03 + 6.83))).toBeLessThan(0.05);
});

it('S11: hours of silence in a few kilobytes come in blocks, not at once', async () => {
  const seconds = 2 * 3600;
  const path = join(folder, 'silence.flac');
  const raw = execFileSync('ffmpeg', [
    '-v',
    'error',
    '-f',
    'lavfi',
    '-i',
    'anullsrc=r=8000:cl=stereo',
    '-t',
    String(seconds),
    '-c:a',
    'flac',
    '-y',
    path,
  ]);
  expect(raw.length).toBe(0);
  const before = process.memoryUsage().arrayBuffers;
  let most = 0;
  const file = await openAudio(path);
  let frames = 0;
  let longest = 0;
  for await (const [first] of file.blocks()) {
    frames += first.length;
    longest = Math.max(longest, first.length);
    most = Math.max(most, process.memoryUsage().arrayBuffers - before);
  }
  await file.close();
  expect(frames).toBe(seconds * 8000);
  expect(longest).toBeLessThanOrEqual(65536);
  expect(most).toBeLessThan(120e6);
});

it('S16: a spool that was cut short from outside ends with a clear word', async () => {
  const path = join(folder, 'cut.part');
  const spool = new DiskSpool({ sampleRateHz: 8000, channels: 1 }, path);
  for (let k = 0; k < 70; k++) await spool.write([noise(0.1, 1, 8000)]);
  for await (const _ of spool.blocks()) break;
  await truncate(path, 40_000);
  const read = async () => {
    for await (const [first] of spool.blocks()) expect(first.length).toBe(8000);
  };
  await expect(read()).rejects.toThrow(/cut short/);
  await spool.discard();
});
