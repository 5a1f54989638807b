import { execFileSync } from 'node:child_process';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { configureChain, SHIPPED_TARGETS, type TargetFile } from '@tonos/core';
import { babble } from '@tonos/core/testing';
import {
  ByteWriter,
  chapterSpans,
  type DeliveryNotes,
  pictureFrom,
  pictureSize,
  readNotes,
  writeWav,
} from '@tonos/formats';
import { png } from '@tonos/formats/testing';
import { renderFile } from './render-file.ts';

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
  authors: 'Ines Marlow',
  voices: 'Ada Ferrow, Jon Quill',
  publisher: 'Lantern Press',
  year: 2025,
  language: 'de-AT',
  series: 'Tidewater',
  seriesNumber: '3',
  description: 'Salt, and what it keeps.',
  copyright: '\u00a9 2025 Lantern Press',
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

async function delivered(targetOrName: string | TargetFile, ending: string, notes: DeliveryNotes = NOTES) {
  const sourcePath = join(folder, 'in.wav');
  const bytes = await ByteWriter.create(sourcePath);
  const writer = await writeWav(bytes, { format: { sampleRateHz: 44100, channels: 1 }, bitDepth: 24 });
  await writer.write([babble(4, 44100)]);
  await writer.finish();
  await bytes.close();
  const outputPath = join(folder, `out${ending}`);
  const target =
    typeof targetOrName === 'string' ? SHIPPED_TARGETS.find(({ name }) => name === targetOrName)! : targetOrName;
  const chain = configureChain([]);
  const result = await renderFile({
    sourcePath,
    name: 'in.wav',
    chain,
    target,
    outputPath,
    spoolFolder: folder,
    notes,
  });
  return { path: outputPath, ...result };
}

interface Chapter {
  start_time: string;
  tags: { title: string };
}

const probe = (path: string) =>
  JSON.parse(
    execFileSync(
      '/usr/bin/ffprobe',
      ['-v', 'error', '-show_format', '-show_streams', '-show_chapters', '-of', 'json', path],
      { encoding: 'utf8' },
    ),
  );

it('puts chapters in order, each until the next or the end', () => {
  expect(chapterSpans(NOTES.chapters!, 4)).toEqual([
    { title: 'First', startSeconds: 0, endSeconds: 1.5 },
    { title: 'Second', startSeconds: 1.5, endSeconds: 4 },
  ]);
});

it('S14: a WAV whose head was cut says when its own first sample was', async () => {
  const audiobook = SHIPPED_TARGETS.find(({ name }) => name === 'Audiobook, RMS window')!;
  const wav: TargetFile = {
    ...audiobook,
    output: { container: 'wav', sampleRateHz: null, channels: null, bitDepth: 24 },
  };
  const { path, findings } = await delivered(wav, '.wav');
  const { headSeconds } = findings.find(({ id }) => id === 'finish')!.findings as { headSeconds: number };
  expect(Math.abs(headSeconds)).toBeGreaterThan(0.05);
  const { timeReferenceSeconds } = (await readNotes(path)).tags;
  expect(timeReferenceSeconds).toBeCloseTo(3600 - headSeconds, 3);
});

it('gives a WAV its broadcast chunk with the loudness that was measured', async () => {
  const { path, after } = await delivered('Broadcast, EBU R 128', '.wav');
  const bytes = await readFile(path);
  const at = bytes.indexOf('bext') + 8;
  expect(bytes.toString('latin1', at, at + 256).replace(/\0+$/, '')).toBe(
    'The ?Long? Quay. Harbour, by Ines Marlow, Lantern Press, ? 2025 Lantern Press',
  );
  expect(bytes.readUInt16LE(at + 346)).toBe(2);
  expect(bytes.readInt16LE(at + 412) / 100).toBeCloseTo(after.integratedLufs!, 2);
  expect(bytes.readInt16LE(at + 416) / 100).toBeCloseTo(after.truePeakDbtp!, 2);
  expect(bytes.readUInt32LE(at + 338)).toBe(3600 * 48000);
  expect(bytes.toString('latin1', at + 602, at + 700)).toMatch(/^A=PCM,F=48000,W=24,M=mono,T=Tonos 1; recipe abab/);
  expect((await readNotes(path)).tags).toMatchObject({ timeReferenceSeconds: 3600 });
});

it.each([
  ['Podcast, mono', '.mp3'],
  ['Streaming speech, AES TD1008', '.flac'],
])('%s says what it is to an independent reader', async (target, ending) => {
  const { path, after } = await delivered(target, ending);
  const { format, chapters } = probe(path);
  const tags = Object.fromEntries(Object.entries(format.tags).map(([key, value]) => [key.toLowerCase(), value]));
  expect(tags).toMatchObject({ title: NOTES.title, artist: NOTES.artist, album: NOTES.album });
  expect(String(tags.track ?? tags.tracknumber)).toMatch(/^2/);
  expect(tags.recipe_sha256).toBe(NOTES.recipeSha256);
  expect(tags).toMatchObject({
    album_artist: NOTES.authors,
    language: ending === '.mp3' ? 'deu' : 'de-AT',
    series: NOTES.series,
    'series-part': NOTES.seriesNumber,
    copyright: NOTES.copyright,
    date: '2025',
    [ending === '.mp3' ? 'publisher' : 'organization']: NOTES.publisher,
    comment: NOTES.description,
  });
  // ID3 lists people by what they did, which this reader does not show in full
  if (ending === '.mp3') expect((await readFile(path)).toString()).toContain(`narrator\0${NOTES.voices}`);
  else expect(tags.performer).toBe(NOTES.voices);
  expect(Number(format.duration)).toBeCloseTo(after.durationSeconds, 1);
  const named = chapters.map((chapter: Chapter) => [Number(chapter.start_time), chapter.tags.title]);
  expect(named.slice(0, 2)).toEqual([
    [0, 'First'],
    [1.5, 'Second'],
  ]);
});

describe('a picture', () => {
  // larger than a page of Ogg can hold, many times over
  const picture = pictureFrom(png(300, 200))!;

  it.each([
    ['Podcast, mono', '.mp3'],
    ['Streaming speech, AES TD1008', '.flac'],
    ['Podcast, small file', '.opus'],
  ])(
    'of %s is found by an independent reader, to the byte, and the sound is as long as ever',
    async (target, ending) => {
      const { path, after, verdict } = await delivered(target, ending, { ...NOTES, picture });
      const { streams, format } = probe(path);
      const found = streams.find((stream: { codec_type: string }) => stream.codec_type === 'video');
      expect(found).toMatchObject({ codec_name: 'png', width: 300, height: 200, disposition: { attached_pic: 1 } });
      expect(Number(format.duration)).toBeCloseTo(4, 1);
      expect(after.durationSeconds).toBeCloseTo(4, 4);
      expect(verdict).toBe('within');
      const copied = join(folder, 'cover.png');
      execFileSync('/usr/bin/ffmpeg', ['-v', 'error', '-i', path, '-map', '0:v', '-c', 'copy', copied]);
      expect(Buffer.compare(await readFile(copied), picture.bytes)).toBe(0);
      expect((await readNotes(path)).tags).toMatchObject({ title: NOTES.title });
    },
  );

  it('is told by its bytes, with its size', () => {
    expect(pictureSize(picture)).toEqual({ width: 300, height: 200 });
    // JPEG: a comment, then a progressive frame of 640 by 480
    const jpeg = [0xff, 0xd8, 0xff, 0xfe, 0, 4, 1, 2, 0xff, 0xc2, 0, 17, 8, 1, 0xe0, 2, 0x80, 3, 0, 0];
    expect(pictureFrom(Uint8Array.from(jpeg))).toMatchObject({ mediaType: 'image/jpeg' });
    expect(pictureSize(pictureFrom(Uint8Array.from(jpeg))!)).toEqual({ width: 640, height: 480 });
  });

  it.each([
    ['nothing', []],
    ['text', [...Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"/>')]],
    ['a PNG that breaks off', [...png(4, 4).subarray(0, 20)]],
    ['a PNG without a size', [...png(0, 4)]],
    ['a JPEG without a frame', [0xff, 0xd8, 0xff, 0xfe, 0, 4, 1, 2, 0xff, 0xd9]],
    ['a JPEG whose segment is longer than the file', [0xff, 0xd8, 0xff, 0xfe, 0xff, 0xff, 1, 2, 3, 4, 5, 6, 7]],
  ])('is not seen in %s', (_, bytes) => {
    expect(pictureFrom(Uint8Array.from(bytes))).toBeUndefined();
  });
});
