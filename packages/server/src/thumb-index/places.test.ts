import type { IndexPlace, Problem } from '@tonos/contract';
import { TestServer } from '../testing/test-server.ts';

let server: TestServer;
beforeAll(async () => {
  server = await TestServer.start();
});
afterAll(() => server.remove());

const list = async () => (await server.call<IndexPlace[]>('GET', '/index')).body;
const steps = [{ id: 'a', kind: 'gain', on: true, mix: 1, settings: { gainDb: 2 } }];
const put = (letter: string, body: object) => server.call<IndexPlace & Problem>('PUT', `/index/${letter}`, body);

it('holds chains, presets and steps at letters, in their order; what is put there last counts', async () => {
  expect(await list()).toEqual([]);
  await put('m', { name: 'Booth', content: { kind: 'chain', chainId: 'c1' } });
  await put('c', { name: 'Warm', content: { kind: 'preset', presetId: 'p1' } });
  await put('m', { name: 'Van', content: { kind: 'steps', steps } });
  expect(await list()).toEqual([
    { letter: 'c', name: 'Warm', content: { kind: 'preset', presetId: 'p1' } },
    { letter: 'm', name: 'Van', content: { kind: 'steps', steps } },
  ]);
});

it('gives a letter up, once', async () => {
  await put('z', { name: 'Last', content: { kind: 'chain', chainId: 'c1' } });
  expect((await server.call('DELETE', '/index/z')).status).toBe(204);
  expect((await server.call('DELETE', '/index/z')).status).toBe(404);
});

it.each([
  ['no letter', 'ab', { name: 'x', content: { kind: 'chain', chainId: 'c' } }],
  ['a figure', '7', { name: 'x', content: { kind: 'chain', chainId: 'c' } }],
  ['a capital', 'A', { name: 'x', content: { kind: 'chain', chainId: 'c' } }],
  ['no name', 'q', { name: ' ', content: { kind: 'chain', chainId: 'c' } }],
  ['no step', 'q', { name: 'x', content: { kind: 'steps', steps: [] } }],
  ['another kind of thing', 'q', { name: 'x', content: { kind: 'title', titleId: 't' } }],
])('refuses %s', async (_, letter, body) => {
  expect((await put(letter, body)).status).toBe(422);
  expect((await list()).some((place) => place.letter === letter)).toBe(false);
});
