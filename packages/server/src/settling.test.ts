import { mkdir, readdir, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import type { Chain, Recording, Run, Target, Title } from '@tonos/contract';
import { TestServer, voiceFile } from './testing/test-server.ts';

/** P3: whatever happens at the edges of an attempt, somebody ends it. */

let server: TestServer;
let titleId: string;
let recording: Recording;
let chainId: string;
let targetId: string;
beforeAll(async () => {
  server = await TestServer.start();
  titleId = (await server.call<Title>('POST', '/titles', { name: 'Sluice', kind: 'podcast' })).body.id;
  [recording] = await uploaded('one.wav', 3);
  await server.until<Recording>(`/recordings/${recording.id}`, ({ status }) => status === 'ready');
  chainId = (await server.call<Chain>('POST', '/chains', { name: 'None', steps: [] })).body.id;
  targetId = (await server.call<Target[]>('GET', '/targets')).body.find(({ name }) => name === 'Archive master')!.id;
});
afterAll(() => server.remove());

async function uploaded(name: string, seed: number): Promise<Recording[]> {
  const form = new FormData();
  form.append('files', await voiceFile(name, 2, seed));
  return (await server.call<Recording[]>('POST', `/titles/${titleId}/recordings`, form)).body;
}
const started = async () =>
  (await server.call<Run>('POST', '/runs', { titleId, recordingIds: [recording.id], chainId, targetId })).body.id;
const finished = (id: string) => server.until<Run>(`/runs/${id}`, ({ status }) => status === 'finished');
/** Until the server has told of some. */
async function trouble(): Promise<void> {
  for (let k = 0; k < 600 && !server.errors.length; k++) await wait(50);
}
const told = () => server.errors.splice(0).length;

it('an item whose spool folder can\u2019t be made waits again, and is done once it can', async () => {
  const spool = join(server.dataFolder, 'spool');
  await rm(spool, { recursive: true });
  await writeFile(spool, 'in the way');
  const id = await started();
  await trouble();
  expect(told()).toBeGreaterThan(0);
  await server.until<Run>(`/runs/${id}`, ({ items }) => items[0].status === 'queued');
  await rm(spool);
  expect((await finished(id)).items[0].status).toBe('within');
  told();
});

it('an item whose file can\u2019t be put into the store fails in words, and is done once it can', async () => {
  const id = await started();
  const sha256 = (await finished(id)).items[0].output!.sha256;
  const place = await placeOf(`${sha256}.survey`);
  await rm(place);
  await mkdir(join(place, 'in the way'), { recursive: true });
  const { items } = (await server.call<Run>('GET', `/runs/${id}`)).body;
  const again = () => server.call('POST', `/runs/${id}/retry`, { itemIds: [items[0].id] });
  await again();
  const [failed] = (await finished(id)).items;
  expect(failed).toMatchObject({ status: 'failed', error: { code: 'not-stored' } });
  expect(failed.error!.message).toMatch(/could not be put into the store.*try it again/);
  expect(told()).toBe(1);
  await rm(place, { recursive: true });
  await again();
  expect((await finished(id)).items[0].status).toBe('within');
});

it('a measuring whose end can\u2019t be kept is tried again, with a pause', async () => {
  const name = 'two.wav';
  const [{ sha256, id }] = await uploaded(name, 8);
  await server.until<Recording>(`/recordings/${id}`, ({ status }) => status === 'ready');
  const survey = await placeOf(`${sha256}.survey`);
  await rm(survey);
  await mkdir(join(survey, 'in the way'), { recursive: true });
  const [same] = await uploaded(name, 8);
  await trouble();
  // the second time comes two seconds after the first
  await wait(1500);
  expect(told()).toBe(1);
  expect((await server.call<Recording>('GET', `/recordings/${same.id}`)).body.status).toBe('measuring');
  await rm(survey, { recursive: true });
  await server.until<Recording>(`/recordings/${same.id}`, ({ status }) => status === 'ready');
});

/** Where the store keeps a file. */
async function placeOf(sha256: string): Promise<string> {
  const files = await readdir(server.dataFolder, { recursive: true });
  return join(server.dataFolder, files.find((file) => file.endsWith(sha256))!);
}
