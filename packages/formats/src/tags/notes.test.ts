import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Random } from '@tonos/core';
import { readNotes } from './read-notes.ts';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'tonos-notes-'));
});
afterAll(() => rm(folder, { recursive: true }));

const le32 = (...values: number[]) => Buffer.concat(values.map((value) => Buffer.from(Uint32Array.of(value).buffer)));
const chunk = (id: string, ...parts: (Buffer | string)[]) => {
  const body = Buffer.concat(parts.map((part) => Buffer.from(part)));
  return Buffer.concat([Buffer.from(id, 'latin1'), le32(body.length), body, Buffer.alloc(body.length % 2)]);
};
const cue = (id: number, frame: number) => Buffer.concat([le32(id, 0), Buffer.from('data'), le32(0, 0, frame)]);

/** A WAV file at 48 kHz with notes before and after its sound. */
function wavWithNotes(): Buffer {
  const format = chunk(
    'fmt ',
    Buffer.from(Uint8Array.of(1, 0, 1, 0)),
    le32(48000, 96000),
    Buffer.from(Uint8Array.of(2, 0, 16, 0)),
  );
  const bext = Buffer.alloc(602);
  bext.write('Morning session', 0);
  bext.write('Booth 2', 256);
  bext.writeBigUInt64LE(48000n * 3600n, 338);
  const body = Buffer.concat([
    Buffer.from('WAVE'),
    format,
    chunk('bext', bext),
    chunk('odd!', 'xyz'),
    chunk('data', Buffer.alloc(9600)),
    chunk('cue ', le32(2), cue(1, 24000), cue(2, 2400)),
    chunk(
      'LIST',
      'adtl',
      chunk('labl', le32(1), 'Retake\0'),
      chunk('ltxt', le32(1, 4800), 'rgn ', le32(0, 0)),
      chunk('labl', le32(2), 'Start\0'),
    ),
    chunk('LIST', 'INFO', chunk('INAM', 'The ferry\0'), chunk('IART', 'A narrator\0'), chunk('ITRK', '07/12\0')),
    chunk('iXML', '<BWFXML><SCENE>4</SCENE><TAKE>2</TAKE></BWFXML>'),
  ]);
  return Buffer.concat([Buffer.from('RIFF'), le32(body.length), body]);
}

async function notesOf(name: string, bytes: Buffer) {
  const path = join(folder, name);
  await writeFile(path, bytes);
  return readNotes(path);
}

it('reads INFO, bext, cues with their labels and lengths, and iXML of a WAV file, wherever they lie', async () => {
  const { tags, marks } = await notesOf('a.wav', wavWithNotes());
  expect(tags).toEqual({
    title: 'The ferry',
    artist: 'A narrator',
    track: 7,
    description: 'Morning session',
    originator: 'Booth 2',
    timeReferenceSeconds: 3600,
    scene: '4',
    take: '2',
  });
  expect(marks).toEqual([
    { name: 'Start', startSeconds: 0.05, endSeconds: 0.05 },
    { name: 'Retake', startSeconds: 0.5, endSeconds: 0.6 },
  ]);
});

it('reads Vorbis comments of a FLAC file, whatever the case of their names', async () => {
  const comments = ['title=Tide', 'Artist=Somebody', 'TRACKNUMBER=3'].map((text) =>
    Buffer.concat([le32(text.length), Buffer.from(text)]),
  );
  const body = Buffer.concat([le32(4), Buffer.from('test'), le32(comments.length), ...comments]);
  const block = Buffer.concat([Buffer.from([0x84, 0, 0, body.length]), body]);
  const { tags } = await notesOf(
    'a.flac',
    Buffer.concat([Buffer.from('fLaC'), Buffer.from([0, 0, 0, 34]), Buffer.alloc(34), block]),
  );
  expect(tags).toEqual({ title: 'Tide', artist: 'Somebody', track: 3 });
});

it.each([
  [3, [0, 0, 0, 11], [1, ...Buffer.from('\ufeffTide\0', 'utf16le')].slice(0, 11)],
  [4, [0, 0, 0, 5], [3, ...Buffer.from('Tide')]],
])('reads the title of an ID3v2.%d tag in its encoding', async (version, size, text) => {
  const frame = Buffer.concat([Buffer.from('TIT2'), Buffer.from(size), Buffer.from([0, 0]), Buffer.from(text)]);
  const body = Buffer.concat([frame, Buffer.alloc(20)]);
  const { tags } = await notesOf(
    `v${version}.mp3`,
    Buffer.concat([Buffer.from('ID3'), Buffer.from([version, 0, 0, 0, 0, 0, body.length]), body]),
  );
  expect(tags.title).toBe('Tide');
});

it('says nothing of a file without notes, and survives any damage', async () => {
  expect(await notesOf('none.mp3', Buffer.alloc(100))).toEqual({ tags: {}, marks: [] });
  const random = new Random(3);
  const whole = wavWithNotes();
  for (let round = 0; round < 200; round++) {
    const bytes = Buffer.from(whole.subarray(0, Math.ceil(random.next() * whole.length)));
    for (let hit = 0; hit < 8; hit++)
      bytes[4 + Math.floor(random.next() * (bytes.length - 4))] = Math.floor(random.next() * 256);
    const { marks } = await notesOf('damaged.wav', bytes);
    expect(Array.isArray(marks)).toBe(true);
  }
});
