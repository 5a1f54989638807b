import { readdir, unlink, utimes, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Integrity, Recording, Storage, Title } from '@tonos/contract';
import { TestServer, voiceFile } from '../testing/test-server.ts';

let server: TestServer;
let recordings: Recording[];
beforeAll(async () => {
  server = await TestServer.start();
  const title = (await server.call<Title>('POST', '/titles', { name: 'High Water', kind: 'podcast' })).body;
  const form = new FormData();
  for (const [name, seed] of [
    ['a.wav', 1],
    ['b.wav', 2],
  ] as const)
    form.append('files', await voiceFile(name, 4, seed));
  recordings = (await server.call<Recording[]>('POST', `/titles/${title.id}/recordings`, form)).body;
  for (const { id } of recordings)
    await server.until<Recording>(`/recordings/${id}`, ({ status }) => status === 'ready');
});
afterAll(() => server.remove());

const blob = (sha256: string) => join(server.dataFolder, 'blobs', sha256);

it('tells what each title takes, and what nobody needs; only old files are taken for that', async () => {
  const { body: before } = await server.call<Storage>('GET', '/storage');
  expect(before.titles).toMatchObject([{ name: 'High Water', recordings: 2, deliveries: 0, deliveredBytes: 0 }]);
  expect(before.titles[0].sourceBytes).toBe(recordings.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0));
  expect(before.derivedBytes).toBeGreaterThan(1000);
  expect(before.freeBytes).toBeGreaterThan(0);
  const stray = 'ab'.repeat(32);
  await writeFile(blob(stray), 'nobody knows this');
  expect((await server.call<Storage>('GET', '/storage')).body.unused.files).toBe(0);
  await utimes(blob(stray), new Date(0), new Date(0));
  expect((await server.call<Storage>('GET', '/storage')).body.unused).toEqual({ files: 1, bytes: 17 });
  expect((await server.call<Storage>('POST', '/storage/clear')).body.unused.files).toBe(0);
  expect((await readdir(join(server.dataFolder, 'blobs'))).sort()).toEqual(
    recordings.map(({ sha256 }) => sha256).sort(),
  );
});

it('finds a file that was altered and one that is gone, and who needs them', async () => {
  expect((await server.call<Integrity>('POST', '/storage/check')).body).toEqual({
    files: 2,
    faults: [],
    database: [],
  });
  await writeFile(blob(recordings[0].sha256), 'something else');
  await unlink(blob(recordings[1].sha256));
  const { body } = await server.call<Integrity>('POST', '/storage/check');
  expect(body.faults.map(({ fault, usedBy }) => [fault, usedBy[0]]).sort()).toEqual([
    ['altered', 'a.wav'],
    ['missing', 'b.wav'],
  ]);
});
