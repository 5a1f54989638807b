import { createHash } from 'node:crypto';
import { mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Random } from '@tonos/core';
import { sine } from '@tonos/core/testing';
import { memoryBytes } from './bytes/byte-reader.ts';
import { ByteWriter } from './bytes/byte-writer.ts';
import { flac } from './flac/read-flac.ts';
import { type AudioFile, UnreadableFileError } from './format.ts';
import { writeMp3 } from './mp3/write-mp3.ts';
import { openAudio } from './open-audio.ts';
import { wav } from './wav/read-wav.ts';
import { writeWav } from './wav/write-wav.ts';

const DEMO = join(import.meta.dirname, '../../../demo/recordings/The Salt Road Almanac');
let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'tonos-read-'));
});
afterAll(() => rm(folder, { recursive: true }));

async function samplesOf(file: AudioFile): Promise<Float32Array[]> {
  const parts: Float32Array[][] = [];
  for await (const block of file.blocks()) parts.push(block.map((channel) => channel.slice()));
  return Array.from({ length: file.format.channels }, (_, c) =>
    Float32Array.from(parts.flatMap((part) => [...part[c]])),
  );
}

interface WavSketch {
  tag?: number;
  bits?: number;
  channels?: number;
  rate?: number;
  data?: Uint8Array;
  /** What its header says of its data. */
  dataSize?: number;
  extensible?: boolean;
}

/** A WAV file made by hand. */
function wavBytes(sketch: WavSketch): Uint8Array {
  const { tag = 1, bits = 16, channels = 1, rate = 48000, data = new Uint8Array(0), extensible = false } = sketch;
  const dataSize = sketch.dataSize ?? data.length;
  const fmtSize = extensible ? 40 : 16;
  const bytes = new Uint8Array(28 + fmtSize + data.length);
  const view = new DataView(bytes.buffer);
  const word = (at: number, text: string) =>
    [...text].forEach((letter, i) => view.setUint8(at + i, letter.charCodeAt(0)));
  word(0, 'RIFF');
  view.setUint32(4, bytes.length - 8, true);
  word(8, 'WAVE');
  word(12, 'fmt ');
  view.setUint32(16, fmtSize, true);
  view.setUint16(20, extensible ? 0xfffe : tag, true);
  view.setUint16(22, channels, true);
  view.setUint32(24, rate, true);
  view.setUint32(28, (rate * channels * bits) / 8, true);
  view.setUint16(32, (channels * bits) / 8, true);
  view.setUint16(34, bits, true);
  if (extensible) view.setUint16(44, tag, true);
  word(20 + fmtSize, 'data');
  view.setUint32(24 + fmtSize, dataSize, true);
  bytes.set(data, 28 + fmtSize);
  return bytes;
}

const readWav = (bytes: Uint8Array) => wav.open(memoryBytes(bytes), 'take.wav');

describe('WAV', () => {
  const bytesOf = (write: (view: DataView) => void, length: number) => {
    const data = new Uint8Array(length);
    write(new DataView(data.buffer));
    return data;
  };

  it.each<[string, number, number, number, (view: DataView) => void, number[]]>([
    ['8-bit, which is unsigned', 1, 8, 3, (v) => [0, 128, 192].forEach((x, i) => v.setUint8(i, x)), [-1, 0, 0.5]],
    ['16-bit', 1, 16, 6, (v) => [-32768, 0, 16384].forEach((x, i) => v.setInt16(2 * i, x, true)), [-1, 0, 0.5]],
    [
      '24-bit',
      1,
      24,
      9,
      (v) =>
        [0x800000, 0, 0x400000].forEach((x, i) =>
          [x & 255, (x >> 8) & 255, x >> 16].forEach((b, k) => v.setUint8(3 * i + k, b)),
        ),
      [-1, 0, 0.5],
    ],
    ['32-bit', 1, 32, 12, (v) => [-(2 ** 31), 0, 2 ** 30].forEach((x, i) => v.setInt32(4 * i, x, true)), [-1, 0, 0.5]],
    [
      'float, beyond full scale too',
      3,
      32,
      12,
      (v) => [-1.5, 0, 0.25].forEach((x, i) => v.setFloat32(4 * i, x, true)),
      [-1.5, 0, 0.25],
    ],
  ])('reads %s', async (_, tag, bits, length, write, expected) => {
    const data = bytesOf(write, length);
    for (const extensible of [false, true]) {
      const file = await readWav(wavBytes({ tag, bits, data, extensible }));
      expect(file.facts).toMatchObject({ bitDepth: bits, codec: tag === 3 ? 'float' : 'pcm' });
      expect([...(await samplesOf(file))[0]]).toEqual(expected);
    }
  });

  it.each([0, 0xffffffff])('reads to its end what was streamed with a size of %d', async (dataSize) => {
    const file = await readWav(wavBytes({ data: new Uint8Array(2000), dataSize }));
    expect(file.frames).toBe(1000);
    expect(file.damage).toEqual([]);
  });

  it('says how much is missing of one that is cut off, and reads the rest', async () => {
    const file = await readWav(wavBytes({ data: new Uint8Array(2000), dataSize: 4000 }));
    expect((await samplesOf(file))[0].length).toBe(1000);
    expect(file.damage).toMatchObject([{ code: 'truncated', message: expect.stringMatching(/1000 of 2000 frames/) }]);
  });

  it.each<[string, Uint8Array, RegExp]>([
    ['12 bits', wavBytes({ bits: 12, data: new Uint8Array(100) }), /12-bit pcm.*8, 16, 24 or 32/],
    ['another codec', wavBytes({ tag: 0x55, data: new Uint8Array(100) }), /codec 0x0055/],
    ['no samples', wavBytes({}), /no samples/],
    ['a rate of 4 kHz', wavBytes({ rate: 4000, data: new Uint8Array(100) }), /8000 to 192000 Hz/],
    ['nine channels', wavBytes({ channels: 9, data: new Uint8Array(180) }), /9 channels/],
    ['only its beginning', wavBytes({ data: new Uint8Array(100) }).slice(0, 30), /damaged/],
  ])('refuses %s by name', async (_, bytes, message) => {
    await expect(readWav(bytes)).rejects.toThrow(message);
    await expect(readWav(bytes)).rejects.toThrow(/take\.wav/);
  });

  it('survives any damage to its header: it is read or refused, never worse', async () => {
    const random = new Random(5);
    const whole = wavBytes({ data: new Uint8Array(400), extensible: true });
    for (let round = 0; round < 300; round++) {
      const bytes = whole.slice(0, Math.ceil(random.next() * whole.length));
      for (let hits = 0; hits < 4; hits++)
        bytes[Math.floor(random.next() * Math.min(bytes.length, 70))] = Math.floor(random.next() * 256);
      try {
        const file = await readWav(bytes);
        for await (const block of file.blocks()) expect(block.length).toBe(file.format.channels);
      } catch (error) {
        expect(error).toBeInstanceOf(UnreadableFileError);
      }
    }
  });

  it('writes what it reads: 24-bit values come back exactly where there is no dither to add, float always', async () => {
    const samples = sine(1000, 0.5, 0.1, 48000);
    const path = join(folder, 'float.wav');
    const bytes = await ByteWriter.create(path);
    const writer = await writeWav(bytes, { format: { sampleRateHz: 48000, channels: 2 }, bitDepth: 32 });
    await writer.write([samples, samples.map((x) => -x)]);
    await writer.finish();
    await bytes.close();
    const [left, right] = await samplesOf(await openAudio(path));
    expect(left).toEqual(samples);
    expect(right).toEqual(samples.map((x) => -x));
  });

  it('dithers 16 bits with noise of half a step RMS, free of distortion: the error is 1 / sqrt(4) steps', async () => {
    const samples = sine(997, 0.25, 2, 48000);
    const path = join(folder, 'dither.wav');
    const bytes = await ByteWriter.create(path);
    const writer = await writeWav(bytes, { format: { sampleRateHz: 48000, channels: 1 }, bitDepth: 16 });
    await writer.write([samples]);
    await writer.finish();
    await bytes.close();
    const [back] = await samplesOf(await openAudio(path));
    const error = back.map((x, i) => (x - samples[i]) * 32768);
    const mean = error.reduce((sum, x) => sum + x, 0) / error.length;
    const rms = Math.sqrt(error.reduce((sum, x) => sum + x * x, 0) / error.length);
    expect(Math.abs(mean)).toBeLessThan(0.01);
    expect(Math.abs(rms - 0.5)).toBeLessThan(0.01); // TPDF: 1/6 of dither and 1/12 of rounding make 1/4
  });
});

describe('FLAC', () => {
  it.each([['01 The salt road.flac'], ['04 Two lanterns.flac']])(
    'decodes %s to the bit: the MD5 in its header is that of the samples',
    async (name) => {
      const path = join(DEMO, name);
      const header = await readFile(path);
      const file = await openAudio(path);
      const [samples] = await samplesOf(file);
      const depth = file.facts.bitDepth!;
      expect(samples.every((x) => Number.isInteger(x * 2 ** (depth - 1)))).toBe(true);
      const pcm = Buffer.alloc((samples.length * depth) / 8);
      samples.forEach((x, i) => pcm.writeIntLE(Math.round(x * 2 ** (depth - 1)), (i * depth) / 8, depth / 8));
      expect(createHash('md5').update(pcm).digest('hex')).toBe(header.subarray(26, 42).toString('hex'));
      expect(samples.length).toBe(file.frames);
      await file.close();
    },
  );

  it('says how many frames are missing where the file is cut off', async () => {
    const bytes = new Uint8Array(await readFile(join(DEMO, '01 The salt road.flac')));
    const file = await flac.open(memoryBytes(bytes.slice(0, bytes.length / 2)), 'half.flac');
    const [samples] = await samplesOf(file);
    expect(samples.length).toBeLessThan(file.frames!);
    expect(file.damage).toMatchObject([{ code: 'damaged' }]);
  });
});

describe('MP3', () => {
  it.each([
    [44100, 1, 64],
    [48000, 2, 128],
    [22050, 1, 48],
  ])(
    'comes back exactly as long and where it was, at %d Hz, %d channels, %d kbps',
    async (rate, channels, bitrateKbps) => {
      const samples = sine(440, 0.4, 1, rate).map((x, i) => x * Math.min(1, i / 400, (rate - i) / 400));
      const path = join(folder, `${rate}.mp3`);
      const bytes = await ByteWriter.create(path);
      const writer = await writeMp3(bytes, { format: { sampleRateHz: rate, channels }, bitrateKbps });
      await writer.write(Array.from({ length: channels }, () => samples.slice()));
      await writer.finish();
      await bytes.close();
      const file = await openAudio(path);
      const decoded = await samplesOf(file);
      expect(file.facts).toMatchObject({ codec: 'mp3', bitrateKbps, channels });
      expect(decoded.length).toBe(channels);
      expect(decoded[0].length).toBe(rate);
      const error = decoded[0].map((x, i) => x - samples[i]);
      expect(error.slice(1000, -1000).reduce((most, x) => Math.max(most, Math.abs(x)), 0)).toBeLessThan(0.02);
      await file.close();
    },
  );
});

describe('files of other encoders', () => {
  const FIXTURES = join(import.meta.dirname, '../fixtures');
  const read = async (name: string) => {
    const file = await openAudio(join(FIXTURES, name));
    const samples = await samplesOf(file);
    await file.close();
    return { file, samples };
  };
  /** The strongest of some frequencies in a channel, by its Fourier sum at each. */
  const pitchOf = (samples: Float32Array, rate: number, choices: number[]) => {
    const power = (hz: number) => {
      let [re, im] = [0, 0];
      for (let i = 1000; i < samples.length - 1000; i++) {
        re += samples[i] * Math.cos((2 * Math.PI * hz * i) / rate);
        im += samples[i] * Math.sin((2 * Math.PI * hz * i) / rate);
      }
      return re * re + im * im;
    };
    return choices.toSorted((a, b) => power(b) - power(a))[0];
  };

  it.each<[string, string, string, number, number, number | null]>([
    ['tone.opus', 'ogg', 'opus', 48000, 1.2345, null],
    ['tone.ogg', 'ogg', 'vorbis', 44100, 1.2345, null],
    ['tone.mp3', 'mp3', 'mp3', 44100, 1.2345, null],
    ['tone24.aiff', 'aiff', 'pcm', 44100, 0.2, 24],
    ['sowt.aif', 'aiff', 'pcm', 44100, 0.2, 16],
  ])(
    '%s is read as %s %s at %d Hz, %d s long to the frame',
    async (name, container, codec, rate, seconds, bitDepth) => {
      const { file, samples } = await read(name);
      expect(file.facts).toMatchObject({ container, codec, sampleRateHz: rate, channels: 1, bitDepth });
      expect(samples[0].length).toBe(Math.round(seconds * rate));
      expect(file.damage).toEqual([]);
      const peak = samples[0].reduce((most, x) => Math.max(most, Math.abs(x)), 0);
      expect(Math.abs(peak - 0.4)).toBeLessThan(0.03);
      expect(pitchOf(samples[0], rate, [220, 440, 880])).toBe(440);
    },
  );

  it.each(['six.opus', 'six.ogg', 'six.flac'])('%s gives its channels in the order of WAVE files', async (name) => {
    const { samples } = await read(name);
    const pitches = [300, 400, 500, 60, 600, 700];
    expect(samples.map((channel) => pitchOf(channel, 48000, pitches))).toEqual(pitches);
  });

  it('says that an Ogg file is cut off, and reads what is there', async () => {
    const whole = await readFile(join(FIXTURES, 'six.opus'));
    const path = join(folder, 'cut.opus');
    await writeFile(path, whole.subarray(0, whole.length * 0.6));
    const file = await openAudio(path);
    const [samples] = await samplesOf(file);
    expect(samples.length).toBeGreaterThan(10000);
    expect(samples.length).toBeLessThan(48000);
    expect(file.damage).toMatchObject([{ code: 'truncated' }]);
    await file.close();
  });

  it.each(['tone.opus', 'tone.ogg', 'tone.mp3', 'tone24.aiff', 'six.flac'])(
    '%s survives flipped bits anywhere: it is read or refused, never worse',
    async (name) => {
      const random = new Random(11);
      const whole = await readFile(join(FIXTURES, name));
      for (let round = 0; round < 12; round++) {
        const bytes = Buffer.from(whole);
        const reach = round % 2 ? bytes.length : 200;
        for (let hit = 0; hit < 6; hit++)
          bytes[Math.floor(random.next() * reach)] ^= 1 << Math.floor(random.next() * 8);
        const path = join(folder, `flipped-${round}-${name}`);
        await writeFile(path, bytes);
        try {
          const file = await openAudio(path);
          let frames = 0;
          for await (const block of file.blocks()) frames += block[0].length;
          expect(frames).toBeLessThan(60 * 192000);
          await file.close();
        } catch (error) {
          expect(error).toBeInstanceOf(UnreadableFileError);
        }
      }
    },
  );
});

describe('what is no sound', () => {
  it.each<[string, Uint8Array | string, RegExp]>([
    ['empty.wav', '', /empty \(0 bytes\)/],
    ['letter.mp3', 'Dear Ada, the tapes are on the shelf.', /no sound file/],
    ['random.flac', Uint8Array.from({ length: 5000 }, (_, i) => (i * 2654435761) >> 13), /no sound file/],
    [
      'picture.wav',
      Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10, ...new Array(100).fill(0)]),
      /no sound file/,
    ],
  ])('%s is refused by name', async (name, content, message) => {
    const path = join(folder, name);
    await writeFile(path, content);
    await expect(openAudio(path)).rejects.toThrow(message);
    await expect(openAudio(path)).rejects.toThrow(name);
  });

  it('a folder and a missing file say so', async () => {
    await expect(openAudio(folder)).rejects.toThrow(UnreadableFileError);
    await expect(openAudio(join(folder, 'nowhere.wav'))).rejects.toThrow(/nowhere\.wav could not be opened/);
    expect((await readdir(folder)).some((name) => name.endsWith('.part'))).toBe(false);
  });
});
