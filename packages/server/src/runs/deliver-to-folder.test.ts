import { mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { HttpProblem } from '../http/problems.ts';
import { deliverToFolder } from './deliver-to-folder.ts';

let folder: string;
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'tonos-folder-'));
});
afterEach(() => rm(folder, { recursive: true }));

it('gives each package a name that is free, and never writes over anything', async () => {
  await writeFile(join(folder, 'The Weir.zip'), 'theirs');
  const first = await deliverToFolder(folder, 'The Weir', Readable.from(['one']));
  const second = await deliverToFolder(folder, 'The Weir', Readable.from(['second']));
  expect([first, second]).toEqual([
    { name: 'The Weir (2).zip', sizeBytes: 3 },
    { name: 'The Weir (3).zip', sizeBytes: 6 },
  ]);
  const texts = await Promise.all((await readdir(folder)).sort().map((name) => readFile(join(folder, name), 'utf8')));
  expect(texts).toEqual(['one', 'second', 'theirs']);
});

it('keeps packages apart that are written at the same time', async () => {
  const all = await Promise.all(
    Array.from({ length: 6 }, (_, k) => deliverToFolder(folder, 'Bag', Readable.from([String(k)]))),
  );
  expect(new Set(all.map(({ name }) => name)).size).toBe(6);
  const texts = await Promise.all(all.map(({ name }) => readFile(join(folder, name), 'utf8')));
  expect(texts).toEqual(['0', '1', '2', '3', '4', '5']);
});

/** Some of a package, and then a fault. */
async function* brokenOff(code: string) {
  yield 'the first part';
  throw Object.assign(new Error(code), { code });
}

it.each([
  ['ENOSPC', 507, 'no-room'],
  ['EDQUOT', 507, 'no-room'],
  ['EROFS', 403, 'read-only'],
  ['EACCES', 403, 'read-only'],
])('says what is wrong with the folder (%s) and leaves nothing there', async (fault, status, code) => {
  const refused = await deliverToFolder(folder, 'Bag', Readable.from(brokenOff(fault))).catch((error) => error);
  expect(refused).toBeInstanceOf(HttpProblem);
  expect(refused).toMatchObject({ status, code });
  expect(await readdir(folder)).toEqual([]);
});

it('leaves nothing of a package that breaks off, and passes the fault on', async () => {
  await expect(deliverToFolder(folder, 'Bag', Readable.from(brokenOff('EIO')))).rejects.toMatchObject({ code: 'EIO' });
  expect(await readdir(folder)).toEqual([]);
});
