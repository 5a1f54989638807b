import { mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { cleanName } from '../recordings/receive-files.ts';
import { baseOf, numbered } from '../runs/output-names.ts';
import { BlobStore } from './blob-store.ts';

let folder: string;
let store: BlobStore;
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'tonos-blobs-'));
  store = await BlobStore.open(folder);
});
afterEach(() => rm(folder, { recursive: true }));

/** SHA-256 of "abc", FIPS 180-2. */
const ABC = 'ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad';

it('keeps a file under the hash of its content, once', async () => {
  for (let i = 0; i < 2; i++)
    expect(await store.receive(Readable.from([Buffer.from('a'), Buffer.from('bc')]))).toEqual({
      sha256: ABC,
      sizeBytes: 3,
    });
  expect(await readdir(join(folder, 'blobs'))).toEqual([ABC]);
  expect(await readFile(store.pathOf(ABC), 'utf8')).toBe('abc');
});

it('adopts a finished file', async () => {
  const path = store.temporaryPath();
  await writeFile(path, 'abc');
  expect(await store.adopt(path)).toEqual({ sha256: ABC, sizeBytes: 3 });
  expect(await readdir(join(folder, 'tmp'))).toEqual([]);
});

it('leaves nothing of a stream that breaks off, or that is refused at its end', async () => {
  const broken = Readable.from(
    (async function* () {
      yield Buffer.from('ab');
      throw new Error('line cut');
    })(),
  );
  await expect(store.receive(broken)).rejects.toThrow('line cut');
  const refuse = () => {
    throw new Error('too large');
  };
  await expect(store.receive(Readable.from([Buffer.from('abc')]), refuse)).rejects.toThrow('too large');
  expect([await readdir(join(folder, 'tmp')), await readdir(join(folder, 'blobs'))]).toEqual([[], []]);
});

it('sweeps what a crash left, and keeps the blobs', async () => {
  await store.receive(Readable.from([Buffer.from('abc')]));
  await writeFile(store.temporaryPath(), 'half');
  await writeFile(join(await store.spoolFolder(), 'x.part'), 'spool');
  await BlobStore.open(folder);
  expect([
    await readdir(join(folder, 'tmp')),
    await readdir(join(folder, 'spool')),
    await readdir(join(folder, 'blobs')),
  ]).toEqual([[], [], [ABC]]);
});

it('P4: deletes nothing that has just come in, nor what is being read', async () => {
  const receive = () => store.receive(Readable.from([Buffer.from('abc')]));
  const isThere = async () => (await readdir(join(folder, 'blobs'))).includes(ABC);
  await receive();
  expect([await store.remove(ABC), await isThere()]).toEqual([null, true]);
  store.recorded([ABC]);
  const [unpin, again] = [store.pin([ABC, ABC]), store.pin([ABC])];
  unpin();
  unpin();
  expect([await store.remove(ABC), await isThere()]).toEqual([null, true]);
  again();
  // the same bytes come in again while they go: whoever is told that they are there finds them
  const [freed, { sha256 }] = await Promise.all([store.remove(ABC), receive()]);
  expect([[3, null].includes(freed), sha256, await isThere()]).toEqual([true, ABC, true]);
});

it.each([
  ['../../etc/take 1.wav', 'take 1.wav'],
  ['C:\\takes\\take 2.wav', 'take 2.wav'],
  ['ta\u0000ke\n3.wav', 'take3.wav'],
  ['Größe.wav', 'Größe.wav'],
  ['', 'recording'],
  ['folder/', 'recording'],
])('a file sent as %j is called %j', (sent, name) => expect(cleanName(sent)).toBe(name));

it('gives outputs the base name with the new ending, and a taken name a number, whatever its case', () => {
  expect(numbered(['a.wav', 'b.flac', 'A.mp3', 'a.b.wav', 'a.wav', '.hidden'].map(baseOf), '.mp3')).toEqual([
    'a.mp3',
    'b.mp3',
    'A (2).mp3',
    'a.b.mp3',
    'a (3).mp3',
    '.hidden.mp3',
  ]);
});
