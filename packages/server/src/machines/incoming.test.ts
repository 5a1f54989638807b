import { createHash } from 'node:crypto';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { PassThrough, Readable } from 'node:stream';
import type { HashedFile } from '../jobs/job-kind.ts';
import { BlobStore } from '../storage/blob-store.ts';
import { Incoming } from './incoming.ts';

const BYTES = Buffer.from('ten bytes!');
const SHA = createHash('sha256').update(BYTES).digest('hex');
const total = BYTES.length;

let folder: string;
let store: BlobStore;
let incoming: Incoming;
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'tonos-incoming-'));
  store = await BlobStore.open(folder);
  incoming = new Incoming(store);
});
afterEach(() => rm(folder, { recursive: true }));

const part = (from: number, to = total) => Readable.from([BYTES.subarray(from, to)]);
const send = (from: number, to = total) => incoming.take(SHA, { from, total }, part(from, to));

const bytesOf = async (file: Awaited<ReturnType<Incoming['use']>>) => readFile('path' in file ? file.path : '');

it('takes a file in pieces, from where the last one stopped and from nowhere else', async () => {
  expect(await incoming.state(SHA)).toEqual({ isThere: false, receivedBytes: 0 });
  expect(await send(0, 4)).toEqual({ isThere: false, receivedBytes: 4 });
  await expect(send(2)).rejects.toMatchObject({ status: 409, code: 'elsewhere', details: { receivedBytes: 4 } });
  expect(await send(4)).toEqual({ isThere: true, receivedBytes: total });
  expect(await bytesOf(await incoming.use(SHA))).toEqual(BYTES);
});

it('what is there is not taken again, whoever sends it', async () => {
  await send(0);
  expect(await send(0, 3)).toMatchObject({ isThere: true });
  expect(await bytesOf(await incoming.use(SHA))).toEqual(BYTES);
  // in the store under its hash it is known without being sent
  const { path, ...blob } = (await incoming.use(SHA)) as HashedFile;
  expect(await store.place(path, blob)).toEqual({ sha256: SHA, sizeBytes: total });
  incoming.used(SHA);
  expect(await incoming.state(SHA)).toMatchObject({ isThere: true });
  expect(await incoming.use(SHA)).toEqual({ sha256: SHA, sizeBytes: total });
});

it('refuses what its hash does not say, and begins anew', async () => {
  const wrong = incoming.take(SHA, { from: 0, total }, Readable.from([Buffer.from('ten Bytes!')]));
  await expect(wrong).rejects.toMatchObject({ status: 422, code: 'wrong-hash' });
  expect(await incoming.state(SHA)).toEqual({ isThere: false, receivedBytes: 0 });
  // also where only its beginning was wrong
  await incoming.take(SHA, { from: 0, total }, Readable.from([Buffer.from('TEN')]));
  await expect(send(3)).rejects.toMatchObject({ code: 'wrong-hash' });
  expect(await send(0)).toMatchObject({ isThere: true });
});

it('takes no more than was told, and keeps what came before a line broke', async () => {
  const long = incoming.take(SHA, { from: 0, total: 3 }, part(0));
  await expect(long).rejects.toMatchObject({ status: 400, code: 'too-long' });
  const broken = new PassThrough();
  const second = new Incoming(await BlobStore.open(folder));
  const taking = second.take(SHA, { from: 0, total }, broken);
  broken.write(BYTES.subarray(0, 6));
  await new Promise((resolve) => setTimeout(resolve, 100));
  await expect(second.take(SHA, { from: 6, total }, part(6))).rejects.toMatchObject({ code: 'being-sent' });
  broken.destroy(new Error('the line broke'));
  await expect(taking).rejects.toThrow('the line broke');
  expect(await second.state(SHA)).toEqual({ isThere: false, receivedBytes: 6 });
  expect(await second.take(SHA, { from: 6, total }, part(6))).toMatchObject({ isThere: true });
});

it('who sends nothing more makes room for another who has the same', async () => {
  const stopped = new PassThrough();
  const taking = incoming.take(SHA, { from: 0, total }, stopped);
  stopped.write(BYTES.subarray(0, 2));
  await expect(taking).rejects.toMatchObject({ status: 408, code: 'stalled' });
  expect(await send(2)).toMatchObject({ isThere: true });
});

it('takes a small file at once, and leaves alone what is there or being sent', async () => {
  await incoming.put(SHA, BYTES);
  expect(await incoming.use(SHA)).toMatchObject({ sha256: SHA, sizeBytes: total });
  expect(await bytesOf(await incoming.use(SHA))).toEqual(BYTES);
  await expect(incoming.put('0'.repeat(64), BYTES)).rejects.toMatchObject({ status: 422, code: 'wrong-hash' });

  const other = Buffer.from('other bytes');
  const sha = createHash('sha256').update(other).digest('hex');
  const sending = new PassThrough();
  const taking = incoming.take(sha, { from: 0, total: other.length }, sending);
  sending.write(other.subarray(0, 5));
  await incoming.put(sha, other);
  // whoever asks for it hears that it is not there yet
  await expect(incoming.use(sha)).rejects.toMatchObject({ code: 'bytes-missing' });
  sending.end(other.subarray(5));
  expect(await taking).toMatchObject({ isThere: true });
  expect(await bytesOf(await incoming.use(sha))).toEqual(other);
  // of one that broke off it brings all
  const third = createHash('sha256').update('abc').digest('hex');
  await incoming.take(third, { from: 0, total: 3 }, Readable.from([Buffer.from('a')]));
  await incoming.put(third, Buffer.from('abc'));
  expect((await bytesOf(await incoming.use(third))).toString()).toBe('abc');
});

it('says what was not sent', async () => {
  await writeFile(join(folder, 'tmp', `${SHA}.incoming`), BYTES);
  await expect(incoming.use(SHA)).rejects.toMatchObject({ status: 409, code: 'bytes-missing' });
});
