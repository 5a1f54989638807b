import { setTimeout as wait } from 'node:timers/promises';
import type { Chain, Machines, Recording, Run, Target, Title, WorkerTokenMade } from '@tonos/contract';
import { TestRedis } from '../testing/test-redis.ts';
import { freePort, TestServer, voiceFile } from '../testing/test-server.ts';
import { machineOf, TestWorker, VERSION } from '../testing/test-worker.ts';

/** A queue that rings for machines: real processes, a real Redis, and what becomes of work when that is away. */

let redis: TestRedis;
let server: TestServer;
let wanted: object;
const workers: TestWorker[] = [];

beforeAll(async () => {
  redis = await TestRedis.start();
  server = await TestServer.start({
    port: await freePort(),
    version: VERSION,
    localThreads: 0,
    queueUrl: redis.url,
  });
  const { token } = (await server.call<WorkerTokenMade>('POST', '/worker-tokens', { name: 'tests' })).body;
  for (const name of ['north', 'south'])
    workers.push(await TestWorker.start(server, { name, token, env: { TONOS_QUEUE: redis.url } }));
  const { id: titleId } = (await server.call<Title>('POST', '/titles', { name: 'Bells', kind: 'podcast' })).body;
  const form = new FormData();
  for (let k = 0; k < 4; k++) form.append('files', await voiceFile(`${k}.wav`, 4, 40 + k));
  await server.call('POST', `/titles/${titleId}/recordings`, form);
  const chain = (await server.call<Chain>('POST', '/chains', { name: 'None', steps: [] })).body;
  const target = (
    await server.call<Target>('POST', '/targets', {
      name: 'Any',
      limits: [{ measure: 'integratedLufs', min: -60, max: 0 }],
      output: { container: 'wav', bitDepth: 24 },
    })
  ).body;
  const path = `/titles/${titleId}/recordings`;
  const recordings = await server.until<Recording[]>(path, (all) => all.every(({ status }) => status === 'ready'));
  wanted = {
    titleId,
    recordingIds: recordings.map(({ id }) => id),
    chainId: chain.id,
    targetId: target.id,
  };
});
afterAll(async () => {
  for (const worker of workers) await worker.remove();
  await server.remove();
  await redis.close();
});

const start = async () => (await server.call<Run>('POST', '/runs', wanted)).body.id;
const finished = (id: string) => server.until<Run>(`/runs/${id}`, ({ status }) => status === 'finished', 60);
const queueIs = (status: string) =>
  server.until<Machines>('/machines', ({ queue }) => queue.kind === 'redis' && queue.status === status, 30);

it('wakes machines that have nothing to do at once', async () => {
  await queueIs('ready');
  for (const name of ['north', 'south']) await machineOf(server, name, ({ state }) => state === 'resting');
  await wait(500);
  const id = await start();
  const { items } = await finished(id);
  // both are asked for, though neither has asked since
  expect([...new Set(items.map(({ machine }) => machine?.name))].sort()).toEqual(['north', 'south']);
});

it('a queue that is emptied fills again by itself: nothing is lost with it', async () => {
  await server.call('POST', '/runs', wanted);
  const { items } = (await server.call<Run>('GET', `/runs/${await start()}`)).body;
  expect(items.some(({ status }) => status === 'queued')).toBe(true);
  await redis.empty();
  const runs = (await server.call<Run[]>('GET', '/runs')).body;
  for (const { id } of runs) await finished(id);
  await queueIs('ready');
});

it('while Redis is away work goes on, and the page says so; when it is back it rings again', async () => {
  const id = await start();
  await redis.close();
  await queueIs('away');
  const later = await start();
  for (const one of [id, later])
    expect((await finished(one)).items.map(({ status }) => status)).toEqual(['within', 'within', 'within', 'within']);
  await redis.open();
  await queueIs('ready');
  await finished(await start());
  for (const { said } of workers) expect(said).toContain('The queue is back.');
});
