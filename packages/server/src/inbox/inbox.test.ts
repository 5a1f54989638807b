import { appendFile, mkdir, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Chain, Recording, RecordingSet, RunSummary, Target, Title, Today } from '@tonos/contract';
import { babble, mixed, noise } from '@tonos/core/testing';
import { TestServer, voiceFile, wavFile } from '../testing/test-server.ts';

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

it('links what comes in one folder where each is a session, and says what has nothing in common', async () => {
  const { id } = (await server.call<Title>('POST', '/titles', { name: 'Two Keepers', kind: 'podcast' })).body;
  const folder = join(server.dataFolder, 'inbox', 'sessions');
  const rate = 16_000;
  const talk = mixed(babble(22, rate, 5), noise(0.0005, 22, rate)).map((x) => 0.3 * x);
  const write = async (session: string, name: string, samples: Float32Array) => {
    await mkdir(join(folder, session), { recursive: true });
    await writeFile(join(folder, session, name), (await wavFile(name, samples, rate)).stream());
  };
  const chain = (await server.call<Chain>('POST', '/chains', { name: 'None', steps: [] })).body;
  const target = (await server.call<Target[]>('GET', '/targets')).body.find(({ name }) => name === 'Podcast, mono')!;
  await write('Monday', 'host.wav', talk);
  await write('Monday', 'guest.wav', talk.slice(1.5 * rate));
  await write('Tuesday', 'host.wav', noise(0.1, 20, rate, 8));
  await write('Tuesday', 'guest.wav', noise(0.1, 20, rate, 9));
  await server.call('PATCH', `/titles/${id}`, {
    chainId: chain.id,
    targetId: target.id,
    inbox: { root: 0, path: 'sessions', run: true, sets: true },
  });
  const own = (runs: RunSummary[]) => runs.filter(({ titleId: of }) => of === id);
  await server.until<RunSummary[]>('/runs', (runs) => own(runs).some(({ status }) => status === 'finished'));
  const recordings = (await server.call<Recording[]>('GET', `/titles/${id}/recordings`)).body;
  const named = (name: string) => recordings.find((one) => one.name === name)!.id;
  const [set, ...more] = (await server.call<RecordingSet[]>('GET', `/titles/${id}/sets`)).body;
  expect(more).toEqual([]);
  expect(new Set(set.members.map(({ recordingId }) => recordingId))).toEqual(
    new Set([named('Monday host.wav'), named('Monday guest.wav')]),
  );
  // the other session waits for somebody, with the reason
  const { arrivals } = await server.until<Today>('/today', (today) =>
    today.arrivals.some((one) => one.titleId === id && /nothing|no sound in common/.test(one.sentence)),
  );
  const apart = arrivals.find((one) => one.titleId === id)!;
  expect(new Set(apart.recordingIds)).toEqual(new Set([named('Tuesday host.wav'), named('Tuesday guest.wav')]));
  // linked by hand it goes on
  await server.call('POST', `/titles/${id}/sets`, { recordingIds: apart.recordingIds, anyway: true });
  await server.until<RunSummary[]>('/runs', (runs) => own(runs).length === 2);
});
