import { mkdtemp, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Block, framesOf, type OutputFormat } from '@tonos/core';
import { ByteWriter, openAudio, readNotes, writerOf } from '@tonos/formats';
import fc from 'fast-check';
import { measureFile } from './measure-file.ts';

/** What is written comes back: as long to the frame, and in lossless formats the very samples. */

let folder: string;
let count = 0;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'tonos-trips-'));
});
afterAll(() => rm(folder, { recursive: true }));

/** Noise of full scale and beyond, or nearly silent: the same for one seed. */
function sound(frames: number, channels: number, size: number, seed: number): Block {
  let state = seed;
  return Array.from({ length: channels }, () =>
    Float32Array.from({ length: frames }, () => {
      state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
      return size * (state / 2 ** 31 - 1);
    }),
  );
}

async function trip(output: OutputFormat, sampleRateHz: number, block: Block, blockFrames: number, title?: string) {
  const path = join(folder, `${++count}${writerOf(output).ending}`);
  const bytes = await ByteWriter.create(path);
  const writer = await writerOf(output).open(bytes, {
    format: { sampleRateHz, channels: block.length },
    bitDepth: output.bitDepth,
    bitrateKbps: output.bitrateKbps,
    notes: title === undefined ? undefined : { software: 'Tonos test', title },
  });
  for (let at = 0; at < framesOf(block); at += blockFrames)
    await writer.write(block.map((channel) => channel.slice(at, at + blockFrames)));
  await writer.finish();
  await bytes.close();
  const audio = await openAudio(path, 'trip');
  const parts: Block[] = [];
  for await (const part of audio.blocks()) parts.push(part.map((channel) => channel.slice()));
  await audio.close();
  const read = block.map((_, c) => Float32Array.from(parts.flatMap((part) => [...part[c]])));
  return { path, read, audio };
}

const cases = fc.record({
  rate: fc.constantFrom(8000, 22050, 44100, 48000, 96000, 192000),
  channels: fc.integer({ min: 1, max: 8 }),
  frames: fc.integer({ min: 1, max: 6000 }),
  blockFrames: fc.integer({ min: 1, max: 3000 }),
  sizeDb: fc.double({ min: -90, max: 6, noNaN: true }),
  seed: fc.integer({ min: 1, max: 1e9 }),
});

/** As FLAC of 24 bits, its third byte from the end is 255: it could begin another frame. */
const ENDS_IN_255: [
  { rate: number; channels: number; frames: number; blockFrames: number; sizeDb: number; seed: number },
][] = [
  [{ rate: 8000, channels: 3, frames: 1, blockFrames: 1, sizeDb: 0.05266674784228809, seed: 765514838 }],
  [{ rate: 8000, channels: 3, frames: 1, blockFrames: 1, sizeDb: 0.05266674784228809, seed: 6 * 7919 }],
  [{ rate: 8000, channels: 3, frames: 2, blockFrames: 1, sizeDb: 0.05266674784228809, seed: 352 * 7919 }],
];

describe.each([
  ['wav', 16],
  ['wav', 24],
  ['wav', 32],
  ['flac', 16],
  ['flac', 24],
] as const)('%s of %d bits', (container, bitDepth) => {
  it('holds every sample to within its step and its dither, and every frame', async () => {
    await fc.assert(
      fc.asyncProperty(cases, async ({ rate, channels, frames, blockFrames, sizeDb, seed }) => {
        const block = sound(frames, channels, 10 ** (sizeDb / 20), seed);
        const output: OutputFormat = { container, bitDepth, sampleRateHz: null, channels: null };
        const { read, audio } = await trip(output, rate, block, blockFrames);
        expect(audio.format).toMatchObject({ sampleRateHz: rate, channels });
        expect(audio.damage).toEqual([]);
        // dither reaches one step to either side, rounding another half
        const most = bitDepth === 32 ? 0 : 1.5 / 2 ** (bitDepth - 1);
        const largest = bitDepth === 32 ? Number.POSITIVE_INFINITY : 1;
        block.forEach((channel, c) => {
          expect(read[c]).toHaveLength(frames);
          const wrong = channel.findIndex(
            (x, i) => Math.abs(read[c][i] - Math.max(-largest, Math.min(largest, x))) > most + 1e-7,
          );
          expect(wrong).toBe(-1);
        });
      }),
      { numRuns: 25, examples: ENDS_IN_255 },
    );
  });

  it('writes the same bytes for the same samples, however they come', async () => {
    await fc.assert(
      fc.asyncProperty(cases, async ({ rate, channels, frames, blockFrames, seed }) => {
        const block = sound(frames, channels, 0.3, seed);
        const output: OutputFormat = { container, bitDepth, sampleRateHz: null, channels: null };
        const [cut, whole] = [await trip(output, rate, block, blockFrames), await trip(output, rate, block, frames)];
        expect((await stat(cut.path)).size).toBe((await stat(whole.path)).size);
        cut.read.forEach((channel, c) => expect(channel.findIndex((x, i) => x !== whole.read[c][i])).toBe(-1));
      }),
      { numRuns: 10 },
    );
  });
});

describe.each([
  ['mp3', [8000, 16000, 22050, 44100, 48000]],
  ['opus', [48000]],
] as const)('%s', (container, rates) => {
  it('is as long as what went in, to the frame', async () => {
    await fc.assert(
      fc.asyncProperty(
        cases,
        fc.constantFrom(...rates),
        fc.integer({ min: 1, max: 2 }),
        async ({ frames, blockFrames, seed }, rate, channels) => {
          const block = sound(frames, channels, 0.1, seed);
          const output: OutputFormat = { container, bitrateKbps: 64, sampleRateHz: null, channels: null };
          const { read, audio } = await trip(output, rate, block, blockFrames);
          expect(audio.format.channels).toBe(channels);
          for (const channel of read) expect(channel).toHaveLength(frames);
          expect(audio.damage).toEqual([]);
        },
      ),
      { numRuns: 25 },
    );
  });
});

it('gives back a title of any letters from every format that has notes', async () => {
  const titles = fc
    .string({ unit: 'grapheme', minLength: 1, maxLength: 60 })
    .map((text) => text.replace(/[\p{Cc}\p{Cs}]/gu, '').trim())
    .filter((text) => text.length > 0);
  const outputs: OutputFormat[] = [
    { container: 'flac', bitDepth: 16, sampleRateHz: null, channels: null },
    { container: 'mp3', bitrateKbps: 64, sampleRateHz: null, channels: null },
    { container: 'opus', bitrateKbps: 48, sampleRateHz: null, channels: null },
  ];
  await fc.assert(
    fc.asyncProperty(titles, fc.constantFrom(...outputs), async (title, output) => {
      const { path } = await trip(output, 48000, sound(2000, 1, 0.1, 7), 2000, title);
      expect((await readNotes(path)).tags.title).toBe(title);
    }),
    { numRuns: 40 },
  );
});

it('measures what was written as it measures the samples, but for the last bit', async () => {
  const block = sound(48000, 2, 0.25, 11);
  const levels: number[] = [];
  for (const bitDepth of [16, 24, 32] as const) {
    const output: OutputFormat = { container: 'wav', bitDepth, sampleRateHz: null, channels: null };
    const { path } = await trip(output, 48000, block, 4096);
    levels.push((await measureFile(path)).measurement.rmsDbfs!);
  }
  // evenly spread values have a third of their largest square as their power
  for (const level of levels) expect(Math.abs(level - 20 * Math.log10(0.25 / Math.sqrt(3)))).toBeLessThan(0.02);
});
