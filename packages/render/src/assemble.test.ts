import { mkdir, mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { InvalidOrderError, readOrder, SHIPPED_TARGETS, type TargetFile, timeCuts, toResult } from '@tonos/core';
import { babble, joined, levelDb, mixed, noise, sine } from '@tonos/core/testing';
import { ByteWriter, openAudio, writeWav } from '@tonos/formats';
import { type AssembleJob, assemble, type PartFile } from './assemble.ts';
import { ledgerOfProgramme } from './programme-ledger.ts';
import { renderFile } from './render-file.ts';

const RATE = 48_000;
let folder: string;
let spoolFolder: string;
let names = 0;
const path = (name: string) => join(folder, name);
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'tonos-assemble-'));
  spoolFolder = path('spool');
  await mkdir(spoolFolder);
});
afterAll(() => rm(folder, { recursive: true }));

async function saved(name: string, channels: Float32Array[], sampleRateHz = RATE): Promise<PartFile> {
  const bytes = await ByteWriter.create(path(name));
  const writer = await writeWav(bytes, { format: { sampleRateHz, channels: channels.length }, bitDepth: 32 });
  await writer.write(channels);
  await writer.finish();
  await bytes.close();
  return { path: path(name), name };
}

const click = (seconds: number, at: number, sampleRateHz = RATE) => {
  const samples = new Float32Array(Math.round(seconds * sampleRateHz));
  samples[Math.round(at * sampleRateHz)] = 0.5;
  return samples;
};

const order = (parts: object[], rest: object = {}) =>
  readOrder({
    format: 'tonos.order/1',
    name: 'An evening',
    channels: 1,
    groups: [{ id: 'all' }],
    parts: parts.map((part) => ({ group: 'all', source: { place: 'x' }, ...part })),
    ...rest,
  });

const made = (job: Pick<AssembleJob, 'order' | 'files'> & Partial<AssembleJob>) => {
  const outputPath = path(`out ${++names}.wav`);
  return assemble({ name: 'an evening', target: undefined, outputPath, spoolFolder, ...job }).then((result) => ({
    ...result,
    outputPath,
  }));
};

async function samplesOf(file: string): Promise<Float32Array[]> {
  const audio = await openAudio(file);
  const parts: Float32Array[][] = Array.from({ length: audio.format.channels }, () => []);
  for await (const block of audio.blocks()) block.forEach((channel, c) => parts[c].push(channel.slice()));
  await audio.close();
  return parts.map((own) => joined(...own));
}
const loudest = (samples: Float32Array): number =>
  samples.reduce((best, x, i) => (Math.abs(x) > Math.abs(samples[best]) ? i : best), 0);
const leftInSpool = async () => (await readdir(spoolFolder)).length;

it('parts of any rate and layout lie where their rows say, to the sample of the highest rate', async () => {
  const first = await saved('first.wav', [noise(0.001, 1, RATE)]);
  for (const [name, rate, channels] of [
    ['telephone', 8000, 1],
    ['music', 44_100, 2],
    ['six', 48_000, 6],
  ] as const) {
    const wave = click(1, 0.5, rate);
    const own = await saved(
      `${name}.wav`,
      Array.from({ length: channels }, () => wave),
      rate,
    );
    const { parts, outputPath } = await made({
      order: order([{ id: 'first' }, { id: 'own', begins: { after: 'first', gapSeconds: 0.25 } }]),
      files: { first, own },
    });
    expect(parts[1]).toEqual({ id: 'own', startSeconds: 1.25, endSeconds: 2.25 });
    const [samples] = await samplesOf(outputPath);
    expect(samples.length).toBe(2.25 * RATE);
    expect(Math.abs(loudest(samples) - 1.75 * RATE)).toBeLessThanOrEqual(1);
    expect(await leftInSpool()).toBe(0);
  }
});

it('a group\u2019s chain makes of its sum what a render makes of the same sum as a file', async () => {
  const [a, b] = [babble(6, RATE, 4).map((x) => 0.3 * x), babble(6, RATE, 9).map((x) => 0.1 * x)];
  const chain = {
    name: 'Voices',
    steps: [
      { id: 'hp', kind: 'high-pass', settings: { frequencyHz: 90 } },
      { id: 'level', kind: 'loudness-normalise', settings: { integratedLufs: -20 } },
    ],
  };
  const written = order([{ id: 'a' }, { id: 'b', begins: { with: 'a', offsetSeconds: 2 } }], {
    groups: [{ id: 'all', chain }],
  });
  const { outputPath } = await made({
    order: written,
    files: { a: await saved('a.wav', [a]), b: await saved('b.wav', [b]) },
  });
  const sum = new Float32Array(8 * RATE);
  a.forEach((x, i) => {
    sum[i] += x;
  });
  b.forEach((x, i) => {
    sum[2 * RATE + i] += x;
  });
  const { configureChain, chainFile } = await import('@tonos/core');
  const plain = path('sum out.wav');
  await renderFile({
    sourcePath: (await saved('sum.wav', [sum])).path,
    name: 'sum',
    chain: configureChain(chainFile.parse(chain).steps),
    target: undefined,
    outputPath: plain,
    spoolFolder,
  });
  const [[one], [other]] = [await samplesOf(outputPath), await samplesOf(plain)];
  expect(one.length).toBe(other.length);
  // two ditherings of 24 bits
  expect(levelDb(one.map((x, i) => x - other[i]))).toBeLessThan(-130);
});

it('is the same bytes each time, and two parts of one file share what was made of it', async () => {
  const bell = await saved('bell.wav', [sine(700, 0.2, 0.5, RATE)]);
  const job = {
    order: order([{ id: 'a' }, { id: 'b', begins: { after: 'a', gapSeconds: 1 } }]),
    files: { a: bell, b: bell },
    target: SHIPPED_TARGETS.find(({ name }) => name === 'Podcast, mono'),
  };
  const [first, second] = [await made(job), await made(job)];
  expect(await readFile(first.outputPath)).toEqual(await readFile(second.outputPath));
  expect(first.verdict).toBe('within');
  expect(await leftInSpool()).toBe(0);
});

it('cuts, marks and chapters of a body go through its time, the opened place, and the ends of the target', async () => {
  const body = joined(
    new Float32Array(2 * RATE),
    babble(8, RATE).map((x) => 0.3 * x),
    new Float32Array(2 * RATE),
  );
  const room = mixed(body, noise(0.0004, 12, RATE));
  const file: PartFile = {
    ...(await saved('body.wav', [room])),
    byHand: {
      boxes: [],
      marks: [{ name: 'break', startSeconds: 6, endSeconds: 6 }],
      cuts: timeCuts.parse([{ kind: 'take-out', startSeconds: 0.5, endSeconds: 1.5 }]),
    },
    chapters: [{ title: 'Second', startSeconds: 8 }],
  };
  const spot = await saved('spot.wav', [sine(900, 0.1, 2, RATE)]);
  const target: TargetFile = {
    ...SHIPPED_TARGETS.find(({ name }) => name === 'Audiobook, RMS window')!,
    output: { container: 'flac', sampleRateHz: 44_100, channels: 1, bitDepth: 24 },
  };
  const result = await made({
    order: order([{ id: 'body' }, { id: 'spot', begins: { into: 'body', mark: 'break' }, chapter: 'Break' }]),
    files: { body: file, spot },
    of: 'body',
    target,
  });
  const [whole, inside] = result.parts;
  // a second was taken out before the mark; the finish sees to head and tail alike for all
  expect(inside.startSeconds - whole.startSeconds).toBeCloseTo(5, 3);
  expect(whole.endSeconds - whole.startSeconds).toBeCloseTo(13, 1);
  expect(result.chapters.map(({ title }) => title)).toEqual(['Break', 'Second']);
  expect(result.chapters[0].startSeconds).toBe(inside.startSeconds);
  // two seconds behind the mark, and the spot between
  expect(result.chapters[1].startSeconds - inside.endSeconds).toBeCloseTo(2, 3);
  expect(toResult(result.timeMap, 8)).toBeCloseTo(result.chapters[1].startSeconds, 6);
});

it('what can\u2019t be put together leaves nothing behind, and says what it is', async () => {
  const one = await saved('one.wav', [sine(500, 0.1, 1, RATE)]);
  await writeFile(path('junk.wav'), 'no sound');
  const late = order([
    { id: 'a', begins: { after: null, gapSeconds: 0 } },
    { id: 'b', begins: { with: 'a', offsetSeconds: -1 } },
  ]);
  await expect(made({ order: late, files: { a: one, b: one } })).rejects.toThrow(InvalidOrderError);
  const two = order([{ id: 'a' }, { id: 'b' }]);
  await expect(
    made({ order: two, files: { a: one, b: { path: path('junk.wav'), name: 'junk.wav' } } }),
  ).rejects.toThrow('junk.wav');
  const silent = await saved('silent.wav', [new Float32Array(RATE)]);
  const target = SHIPPED_TARGETS.find(({ name }) => name === 'Podcast, mono');
  await expect(made({ order: two, files: { a: silent, b: silent }, target })).rejects.toThrow('silence');
  const stopped = AbortSignal.abort();
  await expect(made({ order: two, files: { a: one, b: one }, signal: stopped })).rejects.toThrow();
  expect(await leftInSpool()).toBe(0);
  expect((await readdir(folder)).includes(`out ${names}.wav`)).toBe(false);
});

it('tells what it does to the levels: of each part, each group and the whole', async () => {
  const chain = (gainDb: number) => ({
    format: 'tonos.chain/1',
    name: 'Up',
    steps: [{ id: 'up', kind: 'gain', settings: { gainDb } }],
  });
  // a full sine of 997 Hz in one channel is -3.01 LUFS (BS.1770-5)
  const tone = (peakDb: number, seconds = 8) => [sine(997, 10 ** (peakDb / 20), seconds, RATE)];
  const voice = await saved('account voice.wav', tone(-20));
  const music = await saved('account music.wav', tone(-20));
  const told = await ledgerOfProgramme({
    order: readOrder({
      format: 'tonos.order/1',
      name: 'An account',
      channels: 1,
      groups: [
        { id: 'voices', chain: chain(-6), gainDb: 2 },
        { id: 'music', gainDb: -1 },
      ],
      parts: [
        { id: 'voice', group: 'voices', source: { place: 'a' }, level: { integratedLufs: -30 }, gainDb: 3 },
        {
          id: 'again',
          group: 'voices',
          source: { place: 'a' },
          begins: { after: 'voice' },
          level: { integratedLufs: -30 },
        },
        { id: 'music', group: 'music', source: { place: 'b' }, begins: { after: 'again', gapSeconds: 1 }, gainDb: -7 },
      ],
      chain: chain(4),
    }),
    files: { voice, again: voice, music },
    target: undefined,
    spoolFolder,
  });
  expect(told.lengthSeconds).toBe(25);
  const lufs = Object.fromEntries(told.parts.map(({ id, figures }) => [id, figures.integratedLufs]));
  expect(lufs.voice).toBeCloseTo(-27, 1);
  expect(lufs.again).toBeCloseTo(-30, 1);
  expect(lufs.music).toBeCloseTo(-3.01 - 20 - 7, 1);
  expect(told.parts.map(({ figures }) => figures.truePeakDbtp)).toEqual([
    expect.closeTo(-27 + 3.01, 1),
    expect.closeTo(-30 + 3.01, 1),
    expect.closeTo(-27, 1),
  ]);
  expect(told.parts[0].levelDb).toBeCloseTo(-30 + 23.01, 1);
  const [voices, ofMusic] = told.groups.map(({ figures }) => figures);
  // two stretches of the same length 3 dB apart: their mean power
  const both = 10 * Math.log10((10 ** -2.7 + 10 ** -3) / 2);
  expect(voices.integratedLufs).toBeCloseTo(both - 6 + 2, 1);
  // what comes to its chain, and behind each step, before the group's gain
  const [ofVoices, noChain] = told.groups;
  expect(ofVoices.before.integratedLufs).toBeCloseTo(both, 1);
  expect(ofVoices.steps).toEqual([
    { id: 'up', figures: expect.objectContaining({ integratedLufs: expect.closeTo(both - 6, 1) }) },
  ]);
  expect([noChain.steps, noChain.before.integratedLufs]).toEqual([[], expect.closeTo(ofMusic.integratedLufs! + 1, 5)]);
  expect(told.whole.steps).toEqual([{ id: 'up', figures: told.whole.after }]);
  // of its 80 gating blocks three hold some of the silence before it: a quarter, a half and three quarters
  expect(ofMusic.integratedLufs).toBeCloseTo(-30.01 - 1 + 10 * Math.log10((77 + 1.5) / 80), 2);
  const { before, after } = told.whole;
  expect(after.integratedLufs! - before.integratedLufs!).toBeCloseTo(4, 2);
  expect(told.found.groups.voices).toHaveProperty('up');
  // every half second of the whole, over the last three
  const at = (seconds: number) => told.shortTermLufs[seconds / 0.5];
  expect(at(2.5)).toBeNull();
  expect(at(6)).toBeCloseTo(-27 - 6 + 2 + 4, 1);
  expect(at(14)).toBeCloseTo(-30 - 6 + 2 + 4, 1);
  expect(at(22)).toBeCloseTo(-31 + 4, 1);
  expect(told.shortTermLufs).toHaveLength(51);
  expect(await leftInSpool()).toBe(0);
});

it('linked recordings are one part: each on their time, cut as one, added up, and told in the first one\u2019s time', async () => {
  const cut = (startSeconds: number, endSeconds: number) =>
    timeCuts.parse([{ kind: 'take-out', startSeconds, endSeconds }]);
  const host = await saved('host.wav', [click(8, 1)]);
  // its clock is that of the host; it began a second and a quarter later, at another rate and in two channels
  const wave = click(6, 4, 24_000);
  const guest = await saved('guest.wav', [wave, wave], 24_000);
  const place = (offsetSeconds: number) => ({ offsetSeconds, driftPpm: 0 });
  const byHand = { boxes: [], marks: [{ name: 'break', startSeconds: 0.75, endSeconds: 0.75 }] };
  const body: PartFile = {
    ...host,
    chapters: [{ title: 'Late', startSeconds: 6 }],
    linked: { place: place(0), others: [{ ...guest, byHand: { ...byHand, cuts: cut(1, 2) }, place: place(1.25) }] },
  };
  const spot = await saved('linked spot.wav', [click(1, 0.5)]);
  const { parts, chapters, outputPath } = await made({
    order: order([{ id: 'body' }, { id: 'spot', begins: { into: 'body', mark: 'break' } }], { channels: 2 }),
    files: { body, spot },
    of: 'body',
  });
  // the guest's mark opens both at 2 s of the host; a second from 2.25 s on is gone of both
  expect(parts.map((part) => [part.id, part.startSeconds, part.endSeconds])).toEqual([
    ['body', 0, expect.closeTo(8 - 1 + 1, 3)],
    ['spot', 2, 3],
  ]);
  expect(chapters[0].startSeconds).toBeCloseTo(6 - 1 + 1, 3);
  const [left] = await samplesOf(outputPath);
  const peaks = [...left.keys()].filter((i) => Math.abs(left[i]) > 0.1);
  const near = (seconds: number) => peaks.filter((i) => Math.abs(i - seconds * RATE) <= 1).length;
  // one that comes from half the rate rings for some samples
  expect([near(1), near(2.5), near(1.25 + 4)].every((count) => count > 0)).toBe(true);
  expect(peaks.every((i) => [1, 2.5, 5.25].some((at) => Math.abs(i - at * RATE) <= 12))).toBe(true);
  expect(await leftInSpool()).toBe(0);
});

it('what is turned down in a box of one of them stays as it is in the others', async () => {
  const tone = sine(1000, 0.1, 4, RATE);
  const silence = new Float32Array(tone.length);
  const place = { offsetSeconds: 0, driftPpm: 0 };
  const box = { startSeconds: 1, endSeconds: 3, lowHz: 500, highHz: 2000, gainDb: -40 };
  const byHand = { boxes: [box], marks: [] };
  const levelWith = async (name: string, first: Float32Array, second: Float32Array) => {
    const body: PartFile = {
      ...(await saved(`${name} boxed.wav`, [first])),
      byHand,
      linked: { place, others: [{ ...(await saved(`${name} open.wav`, [second])), place }] },
    };
    const { outputPath } = await made({ order: order([{ id: 'body' }]), files: { body } });
    const [samples] = await samplesOf(outputPath);
    return levelDb(samples.subarray(1.5 * RATE, 2.5 * RATE)) - levelDb(tone);
  };
  expect(await levelWith('a', tone, silence)).toBeLessThan(-30);
  expect(await levelWith('b', silence, tone)).toBeCloseTo(0, 2);
});
