import { execFileSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { configureChain, SHIPPED_TARGETS } from '@tonos/core';
import { babble } from '@tonos/core/testing';
import { ByteWriter } from '../bytes/byte-writer.ts';
import { renderFile } from '../render/render-file.ts';
import { writeWav } from '../wav/write-wav.ts';
import { chapterSpans, type DeliveryNotes } from './delivery-notes.ts';
import { readNotes } from './read-notes.ts';

const NOTES: DeliveryNotes = {
  software: 'Tonos 1',
  title: 'The \u201cLong\u201d Quay',
  artist: 'Ada Ferrow',
  album: 'Harbour',
  track: 2,
  trackTotal: 9,
  date: '2026-05-04T10:20:30.000Z',
  recipeSha256: 'ab'.repeat(32),
  timeReferenceSeconds: 3600,
  chapters: [
    { title: 'Second', startSeconds: 1.5 },
    { title: 'First', startSeconds: 0 },
    { title: 'After the end', startSeconds: 60 },
  ],
};

let folder: string;
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'tonos-notes-'));
});
afterEach(() => rm(folder, { recursive: true }));

async function delivered(targetName: string, ending: string) {
  const sourcePath = join(folder, 'in.wav');
  const bytes = await ByteWriter.create(sourcePath);
  const writer = await writeWav(bytes, { format: { sampleRateHz: 44100, channels: 1 }, bitDepth: 24 });
  await writer.write([babble(4, 44100)]);
  await writer.finish();
  await bytes.close();
  const outputPath = join(folder, `out${ending}`);
  const target = SHIPPED_TARGETS.find(({ name }) => name === targetName)!;
  const chain = configureChain([]);
  const result = await renderFile({
    sourcePath,
    name: 'in.wav',
    chain,
    target,
    outputPath,
    spoolFolder: folder,
    notes: NOTES,
  });
  return { path: outputPath, ...result };
}

interface Chapter {
  start_time: string;
  tags: { title: string };
}

const probe = (path: string) =>
  JSON.parse(
    execFileSync('/usr/bin/ffprobe', ['-v', 'error', '-show_format', '-show_chapters', '-of', 'json', path], {
      encoding: 'utf8',
    }),
  );
const withProbe = existsSync('/usr/bin/ffprobe') ? it : it.skip;

it('puts chapters in order, each until the next or the end', () => {
  expect(chapterSpans(NOTES.chapters!, 4)).toEqual([
    { title: 'First', startSeconds: 0, endSeconds: 1.5 },
    { title: 'Second', startSeconds: 1.5, endSeconds: 4 },
  ]);
});

it('gives a WAV its broadcast chunk with the loudness that was measured', async () => {
  const { path, after } = await delivered('Broadcast, EBU R 128', '.wav');
  const bytes = await readFile(path);
  const at = bytes.indexOf('bext') + 8;
  expect(bytes.toString('latin1', at, at + 256).replace(/\0+$/, '')).toBe('The ?Long? Quay');
  expect(bytes.readUInt16LE(at + 346)).toBe(2);
  expect(bytes.readInt16LE(at + 412) / 100).toBeCloseTo(after.integratedLufs!, 2);
  expect(bytes.readInt16LE(at + 416) / 100).toBeCloseTo(after.truePeakDbtp!, 2);
  expect(bytes.readUInt32LE(at + 338)).toBe(3600 * 48000);
  expect(bytes.toString('latin1', at + 602, at + 700)).toMatch(/^A=PCM,F=48000,W=24,M=mono,T=Tonos 1; recipe abab/);
  expect((await readNotes(path)).tags).toMatchObject({ timeReferenceSeconds: 3600 });
});

withProbe.each([
  ['Podcast, mono', '.mp3'],
  ['Streaming speech, AES TD1008', '.flac'],
])('%s says what it is to an independent reader', async (target, ending) => {
  const { path, after } = await delivered(target, ending);
  const { format, chapters } = probe(path);
  const tags = Object.fromEntries(Object.entries(format.tags).map(([key, value]) => [key.toLowerCase(), value]));
  expect(tags).toMatchObject({ title: NOTES.title, artist: NOTES.artist, album: NOTES.album });
  expect(String(tags.track ?? tags.tracknumber)).toMatch(/^2/);
  expect(tags.recipe_sha256).toBe(NOTES.recipeSha256);
  expect(Number(format.duration)).toBeCloseTo(after.durationSeconds, 1);
  const named = chapters.map((chapter: Chapter) => [Number(chapter.start_time), chapter.tags.title]);
  expect(named.slice(0, 2)).toEqual([
    [0, 'First'],
    [1.5, 'Second'],
  ]);
});
