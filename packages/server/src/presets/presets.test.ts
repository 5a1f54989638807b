import type { Preset, Problem } from '@tonos/contract';
import { SHIPPED_PRESETS, stepOfKind } from '@tonos/core';
import { TestServer } from '../testing/test-server.ts';

let server: TestServer;
beforeAll(async () => {
  server = await TestServer.start();
});
afterAll(() => server.remove());

const list = async () => (await server.call<Preset[]>('GET', '/presets')).body;
const add = (more: object = {}) =>
  server.call<Preset>('POST', '/presets', {
    kind: 'high-pass',
    name: 'Van',
    tags: ['van', 'lavalier'],
    settings: { frequencyHz: 120 },
    ...more,
  });

it('begins with those that ship, each for a kind that is there, read-only', async () => {
  const shipped = await list();
  expect(shipped).toHaveLength(SHIPPED_PRESETS.length);
  expect(new Set(shipped.map(({ id }) => id)).size).toBe(shipped.length);
  for (const { kind, shipped: own, settings } of shipped) {
    expect(own).toBe(true);
    expect(stepOfKind(kind)!.settings.safeParse(settings).success).toBe(true);
  }
  for (const [method, body] of [
    ['PATCH', { name: 'Mine' }],
    ['DELETE', undefined],
  ] as const)
    expect(await server.call<Problem>(method, `/presets/${shipped[0].id}`, body)).toMatchObject({
      status: 409,
      body: { code: 'read-only' },
    });
});

it('keeps one\u2019s own, changes what is named and nothing else, and lets it go', async () => {
  const { status, body: made } = await add();
  expect(status).toBe(201);
  expect(await list()).toContainEqual({ ...made, shipped: false });
  const { body: renamed } = await server.call<Preset>('PATCH', `/presets/${made.id}`, { name: 'Van, raining' });
  expect(renamed).toEqual({ ...made, name: 'Van, raining' });
  const { body: reset } = await server.call<Preset>('PATCH', `/presets/${made.id}`, { settings: { frequencyHz: 90 } });
  expect(reset).toEqual({ ...renamed, settings: { frequencyHz: 90 } });
  expect((await server.call('DELETE', `/presets/${made.id}`)).status).toBe(204);
  expect((await list()).some(({ id }) => id === made.id)).toBe(false);
  expect((await server.call('PATCH', `/presets/${made.id}`, { name: 'x' })).status).toBe(404);
});

it('refuses a setting that is out of range, with the range, in a new one and in a change', async () => {
  const wrong = { settings: { frequencyHz: 5 } };
  expect(await add(wrong)).toMatchObject({
    status: 422,
    body: { setting: 'frequencyHz', minimum: 10, maximum: 20000 },
  });
  const { body: made } = await add();
  expect(await server.call('PATCH', `/presets/${made.id}`, wrong)).toMatchObject({ status: 422 });
  expect((await list()).find(({ id }) => id === made.id)!.settings).toEqual({ frequencyHz: 120 });
});

it('keeps settings of a kind from another version', async () => {
  const { status, body } = await add({ kind: 'from-tomorrow', settings: { amount: 3 } });
  expect(status).toBe(201);
  expect(body.settings).toEqual({ amount: 3 });
});

it.each([[{ name: '  ' }], [{ tags: 'van' }], [{ settings: [] }], [{ colour: 'red' }], [{ format: 'tonos.chain/1' }]])(
  'refuses %j',
  async (more) => {
    expect((await add(more)).status).toBe(422);
  },
);
