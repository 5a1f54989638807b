import { createHash } from 'node:crypto';
import { appendFile, mkdtemp, readdir, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { BlobCache } from './blob-cache.ts';

const bytesOf = (name: string) => Buffer.alloc(100, name);
const hashOf = (name: string) => createHash('sha256').update(bytesOf(name)).digest('hex');
const [A, B, C] = ['a', 'b', 'c'].map(hashOf);
const named = new Map([A, B, C].map((hash, i) => [hash, 'abc'[i]]));

let folder: string;
let fetched: string[];
const fetchIt = async (sha256: string, path: string) => {
  fetched.push(named.get(sha256)!);
  await writeFile(path, bytesOf(named.get(sha256)!));
};
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'tonos-cache-'));
  fetched = [];
});
afterEach(() => rm(folder, { recursive: true }));

/** Deleting is nobody's to wait for: they are told once nothing has changed for ten looks. */
const files = async () => {
  let before = '';
  for (let same = 0; same < 10; ) {
    await wait(20);
    const now = (await readdir(join(folder, 'files'))).sort().join();
    same = now === before ? same + 1 : 0;
    before = now;
  }
  return (before ? before.split(',') : []).map((hash) => named.get(hash)!).sort();
};
const use = async (cache: BlobCache, ...hashes: string[]) => (await cache.hold(hashes, fetchIt))();

it('a limit that is no whole number of bytes, as of a tenth of a gigabyte, is one all the same', async () => {
  const cache = await BlobCache.open(folder, 199.9);
  await use(cache, A);
  await use(cache, B);
  expect(await files()).toEqual(['b']);
});

it('fetches what it lacks, once, also for several who need it at the same time', async () => {
  const cache = await BlobCache.open(folder, 1000);
  const held = await Promise.all([cache.hold([A, B], fetchIt), cache.hold([A], fetchIt)]);
  expect(fetched.sort()).toEqual(['a', 'b']);
  for (const letGo of held) letGo();
  await use(cache, A);
  expect(fetched).toHaveLength(2);
  expect(cache.bytes).toBe(200);
});

it('lets go of the longest unused above its limit, and of nothing that is worked on', async () => {
  const cache = await BlobCache.open(folder, 250);
  await use(cache, A, B);
  await use(cache, A);
  await use(cache, C);
  expect(await files()).toEqual(['a', 'c']);
  const letGo = await cache.hold([A, B, C], fetchIt);
  expect(await files()).toEqual(['a', 'b', 'c']);
  letGo();
  expect((await files()).length).toBe(2);
  expect(cache.bytes).toBeLessThanOrEqual(250);
});

it('a file larger than the limit is worked on, and not kept', async () => {
  const cache = await BlobCache.open(folder, 50);
  const letGo = await cache.hold([A], fetchIt);
  expect(await files()).toEqual(['a']);
  letGo();
  expect(await files()).toEqual([]);
});

it('keeps its files over a start, without what lay in the making, and looks at each when it is used', async () => {
  const first = await BlobCache.open(folder, 1000);
  await use(first, A, B);
  await writeFile(first.temporaryPath(), 'half');
  await first.spoolFolder();
  await appendFile(first.pathOf(A), 'x');
  const second = await BlobCache.open(folder, 1000);
  expect([await readdir(join(folder, 'tmp')), await readdir(join(folder, 'spool'))]).toEqual([[], []]);
  expect(second.bytes).toBe(201);
  await use(second, A, B);
  expect(fetched).toEqual(['a', 'b', 'a']);
});

it('what comes and is not what its hash says is refused, and nothing of it stays', async () => {
  const cache = await BlobCache.open(folder, 1000);
  const wrong = cache.hold([A], (_, path) => writeFile(path, 'else'));
  await expect(wrong).rejects.toMatchObject({ code: 'wrong-hash' });
  expect([await files(), await readdir(join(folder, 'tmp'))]).toEqual([[], []]);
  await use(cache, A);
  expect(await files()).toEqual(['a']);
});
