import { appendFile, mkdir, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Chain, Recording, RunSummary, Target, Title, Today } from '@tonos/contract';
import { TestServer, voiceFile } from '../testing/test-server.ts';

let server: TestServer;
let titleId: string;
const inbox = () => join(server.dataFolder, 'inbox', 'watched');

beforeAll(async () => {
  server = await TestServer.start();
  await mkdir(inbox(), { recursive: true });
  titleId = (await server.call<Title>('POST', '/titles', { name: 'The Bell Buoy', kind: 'podcast' })).body.id;
  const chain = (await server.call<Chain>('POST', '/chains', { name: 'C', steps: [{ kind: 'high-pass' }] })).body;
  const target = (await server.call<Target[]>('GET', '/targets')).body.find(({ name }) => name === 'Podcast, mono')!;
  await server.call('PATCH', `/titles/${titleId}`, { chainId: chain.id, targetId: target.id });
});
afterAll(() => server.remove());

const bytesOf = async (seed: number) => new Uint8Array(await (await voiceFile('x', 3, seed)).arrayBuffer());
const list = () => server.call<Recording[]>('GET', `/titles/${titleId}/recordings`).then(({ body }) => body);

it('brings in what lies complete in a watched folder, once, and runs it', async () => {
  const set = await server.call<Title>('PATCH', `/titles/${titleId}`, {
    inbox: { root: 0, path: 'watched', run: true },
  });
  expect(set.body.inbox).toEqual({ root: 0, path: 'watched', run: true });
  await writeFile(join(inbox(), 'notes.txt'), 'no sound, and none of our business');
  await writeFile(join(inbox(), 'one.wav'), await bytesOf(1));
  const [run] = await server.until<RunSummary[]>('/runs', (runs) => runs.some(({ status }) => status === 'finished'));
  expect(run).toMatchObject({ titleId, counts: { within: 1 } });
  expect((await list()).map(({ name }) => name)).toEqual(['one.wav']);
  // looked at again and again, it stays the one that it is
  await new Promise((resolve) => setTimeout(resolve, 1500));
  expect(await list()).toHaveLength(1);
});

it('waits until a file grows no more', async () => {
  const whole = await bytesOf(2);
  const path = join(inbox(), 'growing.wav');
  const part = Math.ceil(whole.length / 6);
  await writeFile(path, whole.subarray(0, part));
  for (let at = part; at < whole.length; at += part) {
    await new Promise((resolve) => setTimeout(resolve, 60));
    await appendFile(path, whole.subarray(at, at + part));
  }
  const came = await server.until<Recording[]>(`/titles/${titleId}/recordings`, (all) =>
    all.some(({ name }) => name === 'growing.wav'),
  );
  expect(came.find(({ name }) => name === 'growing.wav')!.sizeBytes).toBe(whole.length);
});

it('brings in another content under a name that it knows, and rests where it is no longer watched', async () => {
  await writeFile(join(inbox(), 'new.part'), await bytesOf(3));
  await rename(join(inbox(), 'new.part'), join(inbox(), 'one.wav'));
  await server.until<Recording[]>(
    `/titles/${titleId}/recordings`,
    (all) => all.filter(({ name }) => name === 'one.wav').length === 2,
  );
  await server.call('PATCH', `/titles/${titleId}`, { inbox: null });
  await writeFile(join(inbox(), 'late.wav'), await bytesOf(4));
  await new Promise((resolve) => setTimeout(resolve, 1500));
  expect((await list()).map(({ name }) => name)).not.toContain('late.wav');
  expect(server.errors).toEqual([]);
});

it('P14: says why what came in is not run, tries it again when that has changed, and is not tried every few seconds', async () => {
  const { id } = (await server.call<Title>('POST', '/titles', { name: 'The Fog Horn', kind: 'podcast' })).body;
  const folder = join(server.dataFolder, 'inbox', 'fog');
  await mkdir(folder);
  const steps = [{ id: 'later', kind: 'of-a-later-version', settings: {} }];
  const chain = (await server.call<Chain>('POST', '/chains', { name: 'Later', steps })).body;
  const target = (await server.call<Target[]>('GET', '/targets')).body[0];
  await server.call('PATCH', `/titles/${id}`, {
    chainId: chain.id,
    targetId: target.id,
    inbox: { root: 0, path: 'fog', run: true },
  });
  await writeFile(join(folder, 'a.wav'), await bytesOf(6));
  const { arrivals } = await server.until<Today>('/today', ({ arrivals }) =>
    /later-version/.test(arrivals[0]?.sentence ?? ''),
  );
  expect(arrivals).toMatchObject([{ titleId: id, recordingIds: [expect.any(String)] }]);
  await new Promise((resolve) => setTimeout(resolve, 1200));
  expect(server.errors).toEqual([]); // said where people look, and not again and again in the log
  const plain = (await server.call<Chain>('POST', '/chains', { name: 'Plain', steps: [] })).body;
  await server.call('PATCH', `/titles/${id}`, { chainId: plain.id });
  await server.until<RunSummary[]>('/runs', (runs) =>
    runs.some(({ titleId: of, status }) => of === id && status === 'finished'),
  );
  expect((await server.call<Today>('GET', '/today')).body.arrivals).toEqual([]);
});
