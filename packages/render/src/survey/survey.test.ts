import { mkdir, mkdtemp, readdir, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Block, SPECTROGRAM } from '@tonos/core';
import { babble, joined, mixed, noise, sine } from '@tonos/core/testing';
import { ByteWriter, openAudio, writeWav } from '@tonos/formats';
import { surveyAudio } from './survey-audio.ts';
import { SurveyReader } from './survey-file.ts';
import { spectrogramOf, viewOf } from './view.ts';

const RATE = 16000;
let folder: string;
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'tonos-survey-'));
});
afterEach(() => rm(folder, { recursive: true }));

/** Writes and surveys a file; reads it at random as pages do. */
async function surveyed(channels: Float32Array[]) {
  const path = join(folder, 'take.wav');
  const bytes = await ByteWriter.create(path);
  const writer = await writeWav(bytes, { format: { sampleRateHz: RATE, channels: channels.length }, bitDepth: 32 });
  await writer.write(channels);
  await writer.finish();
  await bytes.close();
  const surveyPath = join(folder, 'take.survey');
  const result = await surveyAudio({ path, name: 'take.wav', surveyPath, copyPath: join(folder, 'copy.wav') });
  const survey = await SurveyReader.open(surveyPath);
  const readFrames = async (from: number, frames: number): Promise<Block> =>
    channels.map((channel) => channel.slice(from, from + frames));
  return { ...result, survey, readFrames, path };
}

const round = (x: number) => Math.round(x * 1e5) / 1e5;

describe('viewOf', () => {
  it.each([
    ['the whole', 0, 40, 200],
    ['a part, from the pyramid', 7.3, 31.7, 150],
    ['a part, from the samples', 3.21, 4.05, 120],
  ])('shows of %s the smallest and largest sample of every column', async (_, from, to, columns) => {
    const samples = mixed(babble(40, RATE), noise(0.01, 40, RATE));
    const { survey, readFrames } = await surveyed([samples, samples.map((x) => -0.5 * x)]);
    const view = await viewOf(survey, readFrames, { fromSeconds: from, toSeconds: to, columns });
    const width = ((to - from) * RATE) / columns;
    // columns of the pyramid are 256 frames or some such: an edge may take a neighbour's sample
    const slack = width >= 256 ? Math.ceil(width) : 1;
    for (let column = 0; column < columns; column += 7) {
      const [a, b] = [from * RATE + column * width, from * RATE + (column + 1) * width];
      const inner = samples.subarray(Math.ceil(a), Math.max(Math.ceil(a) + 1, Math.floor(b)));
      const outer = samples.subarray(Math.max(0, Math.floor(a - slack)), Math.ceil(b + slack));
      const { low, high } = view.channels[0];
      expect(high[column]).toBeLessThanOrEqual(round(Math.max(...outer)) + 4e-5);
      expect(low[column]).toBeGreaterThanOrEqual(round(Math.min(...outer)) - 4e-5);
      if (width < 256) expect(high[column]).toBeGreaterThanOrEqual(round(Math.max(...inner)) - 1e-4);
      expect(view.channels[1].low[column]).toBeCloseTo(-0.5 * high[column], 3);
    }
    await survey.close();
  });

  it('never loses a single click, at whatever zoom', async () => {
    const samples = noise(0.001, 60, RATE);
    samples[500_003] = 0.9;
    const { survey, readFrames } = await surveyed([samples]);
    for (const [fromSeconds, toSeconds] of [
      [0, 60],
      [20, 50],
      [31, 31.5],
      [31.25, 31.2503],
    ]) {
      for (const columns of [50, 333, 1000]) {
        const { channels } = await viewOf(survey, readFrames, { fromSeconds, toSeconds, columns });
        expect(Math.max(...channels[0].high)).toBeCloseTo(0.9, 3);
      }
    }
    await survey.close();
  });

  it('shows the samples themselves where there are few, in their place', async () => {
    const samples = sine(1000, 0.5, 2, RATE);
    const { survey, readFrames } = await surveyed([samples]);
    const { samples: shown } = await viewOf(survey, readFrames, { fromSeconds: 1, toSeconds: 1.002, columns: 800 });
    expect(shown!.firstSeconds).toBe(1);
    expect(shown!.values[0]).toEqual([...samples.subarray(RATE, RATE + 32)]);
    await survey.close();
  });

  it('draws the loudness where it is: -23 LUFS, then -33', async () => {
    const tone = (db: number) => sine(1000, 10 ** (db / 20), 10, RATE);
    const left = joined(tone(-23), tone(-33));
    const { survey, readFrames } = await surveyed([left, left]);
    const { momentaryLufs, shortTermLufs } = await viewOf(survey, readFrames, {
      fromSeconds: 0,
      toSeconds: 20,
      columns: 200,
    });
    expect(momentaryLufs.slice(0, 3)).toEqual([null, null, null]);
    expect(Math.abs(momentaryLufs[50]! + 23)).toBeLessThan(0.1);
    expect(Math.abs(momentaryLufs[150]! + 33)).toBeLessThan(0.1);
    expect(shortTermLufs[28]).toBeNull();
    expect(Math.abs(shortTermLufs[90]! + 23)).toBeLessThan(0.1);
    expect(Math.abs(shortTermLufs[140]! + 33)).toBeLessThan(0.1);
    await survey.close();
  });

  it('marks true peaks between the samples, and flat tops, where they are', async () => {
    const samples = new Float32Array(30 * RATE);
    // a quarter of the rate at 45 degrees: samples show -3 dB of a peak of 0 dBTP
    for (let i = 12 * RATE; i < 12.1 * RATE; i++) samples[i] = Math.sin((Math.PI / 2) * i + Math.PI / 4);
    for (let i = 20 * RATE; i < 20.2 * RATE; i++)
      samples[i] = Math.max(-0.4, Math.min(0.4, 0.6 * Math.sin((2 * Math.PI * 100 * i) / RATE)));
    const { survey, readFrames } = await surveyed([samples]);
    const view = await viewOf(survey, readFrames, { fromSeconds: 10, toSeconds: 25, columns: 150 });
    expect(view.truePeaksDbtp[20]).toBeCloseTo(0, 0);
    expect(view.truePeaksDbtp.filter((peak) => peak !== null).length).toBeLessThan(4);
    // 0.4 lies under the largest sample of all, 0.707: no ceiling
    expect(view.flatTops).toEqual([]);
    await survey.close();
    await rm(folder, { recursive: true });
    await mkdir(folder);
    samples.fill(0, 12 * RATE, 13 * RATE);
    const clipped = await surveyed([samples]);
    const again = await viewOf(clipped.survey, clipped.readFrames, { fromSeconds: 10, toSeconds: 25, columns: 150 });
    expect(again.flatTops).toEqual([100, 101]);
    await clipped.survey.close();
  });

  it('tells where somebody speaks', async () => {
    const { survey, readFrames } = await surveyed([
      mixed(
        babble(8, RATE).map((x) => 0.3 * x),
        noise(0.0005, 8, RATE),
      ),
    ]);
    const { speech } = await viewOf(survey, readFrames, { fromSeconds: 0, toSeconds: 2, columns: 10 });
    expect(speech).toHaveLength(1);
    expect(Math.abs(speech[0].startSeconds - 1)).toBeLessThan(0.15);
    await survey.close();
  });
});

describe('spectrogramOf', () => {
  it('puts a tone of -20 dBFS into its row, at its level', async () => {
    const samples = sine(1000, 0.1, 4, RATE);
    const { survey, readFrames } = await surveyed([samples]);
    const rows = 160;
    const values = await spectrogramOf(survey.header, readFrames, { fromSeconds: 0, toSeconds: 4, columns: 20 }, rows);
    const { bottomDb, topDb, lowestHz } = SPECTROGRAM;
    const row = Math.floor((rows * Math.log(1000 / lowestHz)) / Math.log(RATE / 2 / lowestHz));
    for (const column of [3, 10, 17]) {
      const spectrum = values.subarray(column * rows, (column + 1) * rows);
      expect(Math.abs(spectrum.indexOf(Math.max(...spectrum)) - row)).toBeLessThanOrEqual(1);
      const db = bottomDb + ((topDb - bottomDb) * Math.max(...spectrum)) / 255;
      expect(Math.abs(db + 20)).toBeLessThan(1.5); // a Hann window reads up to 1.42 dB low between two bins
      expect(spectrum[row + 40]).toBeLessThan(60);
    }
    await survey.close();
  });
});

describe('surveyAudio', () => {
  const demo = join(import.meta.dirname, '../../../formats/fixtures');

  it('makes a copy that can be read at random where the file itself can\u2019t, with the same samples', async () => {
    const copyPath = join(folder, 'copy.wav');
    const { copied, measurement } = await surveyAudio({
      path: join(demo, 'six.flac'),
      name: 'six.flac',
      surveyPath: join(folder, 'a.survey'),
      copyPath,
    });
    expect(copied).toBe(true);
    expect(measurement).toMatchObject({ container: 'flac', channels: 6 });
    const [file, copy] = [await openAudio(join(demo, 'six.flac')), await openAudio(copyPath)];
    const whole: Float32Array[] = [];
    for await (const block of file.blocks()) whole.push(block[3].slice());
    const read = await copy.readFrames!(12_345, 100);
    expect([...read[3]]).toEqual(whole.flatMap((part) => [...part]).slice(12_345, 12_445));
    await file.close();
    await copy.close();
  });

  it('needs no copy of a WAV file', async () => {
    const { copied, survey } = await surveyed([noise(0.1, 1, RATE)]);
    expect(copied).toBe(false);
    expect(await readdir(folder)).toEqual(['take.survey', 'take.wav']);
    await survey.close();
  });

  it('leaves nothing where it is cancelled', async () => {
    const { path, survey } = await surveyed([noise(0.1, 20, RATE)]);
    await survey.close();
    const controller = new AbortController();
    const job = {
      path,
      name: 'take.wav',
      surveyPath: join(folder, 'b.survey'),
      copyPath: join(folder, 'b.wav'),
      signal: controller.signal,
      progress: () => controller.abort(),
    };
    await expect(surveyAudio(job)).rejects.toThrow(/abort/i);
    expect(await readdir(folder)).toEqual(['take.survey', 'take.wav']);
  });
});
