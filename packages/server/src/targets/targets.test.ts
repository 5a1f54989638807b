import type { Chain, Problem, Recording, Run, Target, Title } from '@tonos/contract';
import { SHIPPED_TARGETS } from '@tonos/core';
import { TestServer, voiceFile } from '../testing/test-server.ts';

let server: TestServer;
beforeAll(async () => {
  server = await TestServer.start();
});
afterAll(() => server.remove());

const list = async () => (await server.call<Target[]>('GET', '/targets')).body;
const file = (more: object = {}) => ({
  name: 'Our own',
  limits: [{ measure: 'integratedLufs', min: -20, max: -18, aim: -19 }],
  output: { container: 'wav', bitDepth: 24 },
  ...more,
});
const add = async (more: object = {}) => (await server.call<Target>('POST', '/targets', file(more))).body;

it('begins with those that ship, as they are written down, and they can\u2019t be changed', async () => {
  const shipped = await list();
  expect(shipped.map(({ name }) => name)).toEqual(SHIPPED_TARGETS.map(({ name }) => name));
  shipped.forEach((target, i) => expect(target).toMatchObject({ ...SHIPPED_TARGETS[i], shipped: true, version: 1 }));
  expect(await server.call('PUT', `/targets/${shipped[0].id}`, file())).toMatchObject({
    status: 409,
    body: { code: 'read-only' },
  });
  expect((await server.call('DELETE', `/targets/${shipped[0].id}`)).status).toBe(409);
});

it('P6: becomes its next version where it is changed, in the list and in titles', async () => {
  const first = await add();
  const { body: title } = await server.call<Title>('POST', '/titles', { name: 'Low water', kind: 'podcast' });
  await server.call('PATCH', `/titles/${title.id}`, { targetId: first.id });
  const { body: second } = await server.call<Target>('PUT', `/targets/${first.id}`, file({ name: 'Our own, louder' }));
  expect(second).toMatchObject({ name: 'Our own, louder', version: 2, superseded: false });
  expect((await list()).filter(({ shipped }) => !shipped).map(({ id }) => id)).toEqual([second.id]);
  expect((await server.call<Title>('GET', `/titles/${title.id}`)).body.targetId).toBe(second.id);
  // the first one stays for the runs that used it, but is no ground to work on
  expect((await server.call<Target>('GET', `/targets/${first.id}`)).body).toMatchObject({
    superseded: true,
    version: 1,
  });
  expect(await server.call('PUT', `/targets/${first.id}`, file())).toMatchObject({
    status: 409,
    body: { code: 'stale-version' },
  });
  expect(await server.call('DELETE', `/targets/${second.id}`)).toMatchObject({ status: 409, body: { code: 'in-use' } });
  await server.call('PATCH', `/titles/${title.id}`, { targetId: null });
  expect((await server.call('DELETE', `/targets/${second.id}`)).status).toBe(204);
});

it('P6: is what a run was started with, whatever becomes of it since, and the next is not started with the old one', async () => {
  const target = await add({ name: 'At first' });
  const { body: title } = await server.call<Title>('POST', '/titles', { name: 'High water', kind: 'podcast' });
  const form = new FormData();
  form.append('files', await voiceFile('a.wav', 3));
  const [recording] = (await server.call<Recording[]>('POST', `/titles/${title.id}/recordings`, form)).body;
  const chain = (await server.call<Chain>('POST', '/chains', { name: 'Plain', steps: [] })).body;
  const asked = { titleId: title.id, recordingIds: [recording.id], chainId: chain.id, targetId: target.id };
  const { body: run } = await server.call<Run>('POST', '/runs', asked);
  const { body: later } = await server.call<Target>(
    'PUT',
    `/targets/${target.id}`,
    file({ name: 'Later', limits: [{ measure: 'rmsDbfs', min: -20, max: -18, aim: -19 }] }),
  );
  const finished = await server.until<Run>(`/runs/${run.id}`, ({ status }) => status === 'finished');
  expect(finished).toMatchObject({ targetName: 'At first', targetId: target.id, targetLimits: target.limits });
  const { body: firstItems } = await server.call<Run>('GET', `/runs/${run.id}?from=0&count=1`);
  expect(firstItems.targetLimits).toEqual(target.limits);
  expect(finished.items[0].limits[0]).toMatchObject({
    measure: 'integratedLufs',
    min: -20,
    max: -18,
    result: 'within',
  });
  expect((await server.call<Title>('GET', `/titles/${title.id}`)).body.targetId).toBe(later.id);
  expect(await server.call('POST', '/runs', asked)).toMatchObject({
    status: 409,
    body: { code: 'superseded-target', targetId: later.id },
  });
});

it.each<[string, object]>([
  ['a measure that is none', { limits: [{ measure: 'beauty', max: 1 }] }],
  ['a window turned round', { limits: [{ measure: 'rmsDbfs', min: -10, max: -20 }] }],
  ['a limit without an end', { limits: [{ measure: 'rmsDbfs' }] }],
  ['an aim outside its window', { limits: [{ measure: 'rmsDbfs', min: -20, max: -18, aim: -3 }] }],
  ['a container that is none', { output: { container: 'wma' } }],
  ['a name of nothing', { name: ' ' }],
])('refuses %s, and says so', async (_, more) => {
  const { status, body } = await server.call<Problem>('POST', '/targets', file(more));
  expect(status).toBe(422);
  expect(body.detail.length).toBeGreaterThan(10);
});
