import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { babble, noise } from '@tonos/core/testing';
import { ByteWriter } from '../bytes/byte-writer.ts';
import { openAudio } from '../open-audio.ts';
import { writeMp3 } from './write-mp3.ts';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'tonos-mp3-'));
});
afterAll(() => rm(folder, { recursive: true }));

const SECONDS = 6;
/** A sample is a sum of sixteen, added in another order by a decoder that begins elsewhere: half a last bit of float32 for each. */
const ROUNDING = 16 * 2 ** -24;
let made = 0;

async function encoded(rate: number, channels: number, bitrateKbps: number): Promise<{ path: string; frames: number }> {
  const path = join(folder, `${made++}.mp3`);
  const bytes = await ByteWriter.create(path);
  const writer = await writeMp3(bytes, { format: { sampleRateHz: rate, channels }, bitrateKbps });
  // loud and silent by turns: the reservoir fills and empties
  const frames = SECONDS * rate + 123;
  const voices = Array.from({ length: channels }, (_, c) => babble(SECONDS + 1, rate, c + 1).subarray(0, frames));
  const hiss = noise(0.2, SECONDS + 1, rate);
  for (const voice of voices)
    for (let i = 0; i < frames; i++) voice[i] = Math.floor((4 * i) / rate) % 3 ? voice[i] + hiss[i] : 0;
  await writer.write(voices);
  await writer.finish();
  await bytes.close();
  return { path, frames };
}

async function wholeOf(path: string): Promise<Float32Array[]> {
  const file = await openAudio(path);
  const blocks: Float32Array[][] = [];
  for await (const block of file.blocks()) blocks.push(block.map((channel) => channel.slice()));
  await file.close();
  return Array.from({ length: file.format.channels }, (_, c) =>
    Float32Array.from(blocks.flatMap((block) => [...block[c]])),
  );
}

const farthest = (a: Float32Array, b: Float32Array): number =>
  a.reduce((most, x, i) => Math.max(most, Math.abs(x - b[i])), 0);

it.each([
  [44100, 1, 64],
  [44100, 2, 320],
  [48000, 2, 128],
  [32000, 1, 48],
  [22050, 1, 32],
  [16000, 2, 8],
  [8000, 1, 16],
])(
  'any stretch is what decoding all of it gives there, at %d Hz, %d channels, %d kbps',
  async (...[rate, channels, bitrateKbps]) => {
    const { path, frames } = await encoded(rate, channels, bitrateKbps);
    const whole = await wholeOf(path);
    expect(whole[0]).toHaveLength(frames);
    const file = await openAudio(path);
    const stretches = [
      [0, 1],
      [0, 5000],
      [rate - 1, 3 * rate],
      [frames - 700, 700],
      [frames - 1, 1],
      ...Array.from({ length: 20 }, (_, k) => [Math.floor((k / 20) * frames) + 7 * k, 300]),
    ];
    for (const [from, count] of stretches) {
      const read = await file.readFrames!(from, count);
      expect(read).toHaveLength(channels);
      for (const [c, channel] of read.entries()) {
        expect(channel).toHaveLength(count);
        expect(farthest(channel, whole[c].subarray(from, from + count))).toBeLessThanOrEqual(ROUNDING);
      }
    }
    expect((await file.readFrames!(frames - 10, 100))[0]).toHaveLength(10);
    expect((await file.readFrames!(frames + 10, 100))[0]).toHaveLength(0);
    await file.close();
  },
);

it('where the file is damaged, what lies behind it stays in its place', async () => {
  const { path, frames } = await encoded(44100, 1, 64);
  const whole = await wholeOf(path);
  const bytes = await readFile(path);
  const at = Math.floor(bytes.length / 2);
  bytes.fill(0, at, at + 2000);
  const damaged = join(folder, 'damaged.mp3');
  await writeFile(damaged, bytes);
  const file = await openAudio(damaged);
  for (const from of [0, frames - 44100]) {
    const [read] = await file.readFrames!(from, 44100);
    expect(farthest(read, whole[0].subarray(from, from + 44100))).toBeLessThanOrEqual(ROUNDING);
  }
  expect((await file.readFrames!(Math.floor(frames / 2) - 5000, 20_000))[0]).toHaveLength(20_000);
  await file.close();
  // one that was cut in its middle is silent from there on
  const cut = join(folder, 'cut.mp3');
  await writeFile(cut, bytes.subarray(0, at));
  const half = await openAudio(cut);
  const [end] = await half.readFrames!(frames - 44100, 44100);
  expect(end).toEqual(new Float32Array(44100));
  await half.close();
});

it('frames that do not lie where their number says are not read at random', async () => {
  const { path } = await encoded(48000, 2, 128);
  const bytes = await readFile(path);
  // of more bytes than so many frames of this bit rate take: the Info frame's own count
  const tag = bytes.indexOf('Info');
  bytes.writeUInt32BE(bytes.readUInt32BE(tag + 12) + 40, tag + 12);
  const varying = join(folder, 'varying.mp3');
  await writeFile(varying, bytes);
  const file = await openAudio(varying);
  expect(file.readFrames).toBeUndefined();
  await file.close();
});
