import type { Problem, Recording, Title } from '@tonos/contract';
import { TestServer, voiceFile } from '../testing/test-server.ts';

let server: TestServer;
let recording: Recording;
beforeAll(async () => {
  server = await TestServer.start();
  const title = (await server.call<Title>('POST', '/titles', { name: 'High Water', kind: 'podcast' })).body;
  const form = new FormData();
  form.append('files', await voiceFile('a.wav', 3));
  [recording] = (await server.call<Recording[]>('POST', `/titles/${title.id}/recordings`, form)).body;
});
afterAll(() => server.remove());

const path = (rest = '') => `/recordings/${recording.id}${rest}`;
const read = async () => (await server.call<Recording>('GET', path())).body;
const tag = async () => (await fetch(`${server.origin}/api${path()}`)).headers.get('etag')!;
const mark = (name: string, at: number) => ({ name, startSeconds: at, endSeconds: at });
const box = { startSeconds: 0.5, endSeconds: 1, lowHz: 100, highHz: 200, gainDb: -12 };

it('P17: marks and boxes are put, changed and taken away one by one: what others marked stays', async () => {
  for (const [id, at] of [
    ['b', 2],
    ['a', 1],
  ] as const)
    expect((await server.call('PUT', path(`/marks/${id}`), mark(id, at))).status).toBe(200);
  await server.call('PUT', path('/boxes/x'), box);
  // one moves a mark while another one takes a mark away and a third one turns a box further down
  await Promise.all([
    server.call('PUT', path('/marks/a'), { ...mark('moved', 2.5), chapter: true }),
    server.call('DELETE', path('/marks/b')),
    server.call('PUT', path('/boxes/x'), { ...box, gainDb: -20 }),
    server.call('PUT', path('/marks/c'), mark('c', 0)),
  ]);
  const { marks, boxes } = await read();
  expect(marks).toEqual([
    { id: 'c', ...mark('c', 0) },
    { id: 'a', ...mark('moved', 2.5), chapter: true },
  ]);
  expect(boxes).toEqual([{ id: 'x', ...box, gainDb: -20 }]);
  expect((await server.call('DELETE', path('/marks/b'))).status).toBe(404);
  expect((await server.call('DELETE', path('/boxes/x'))).status).toBe(204);
  expect((await read()).boxes).toEqual([]);
});

it('P17: all at once only by who saw what stands', async () => {
  const seen = await tag();
  const change = (name: string, version?: string) =>
    server.call<Omit<Recording, 'status'> & Problem>(
      'PATCH',
      path(),
      { marks: [{ id: name, ...mark(name, 1) }] },
      version ? { 'if-match': version } : {},
    );
  expect((await change('mine', seen)).status).toBe(200);
  const late = await change('late', seen);
  expect(late).toMatchObject({
    status: 412,
    body: { code: 'changed-meanwhile', recording: { marks: [{ id: 'mine' }] } },
  });
  expect((await change('now', await tag())).body.marks).toMatchObject([{ id: 'now' }]);
  expect((await change('bare')).status).toBe(200);
  // labels count too
  const before = await tag();
  await server.call('PATCH', '/recordings', { ids: [recording.id], speaker: 'Ada' });
  expect(await tag()).not.toBe(before);
});

it('takes a name of its own, which deliveries carry; the file keeps its own', async () => {
  expect((await server.call<Recording>('PATCH', path(), { givenName: ' Chapter one ' })).body).toMatchObject({
    name: 'a.wav',
    givenName: 'Chapter one',
  });
  expect((await server.call<Recording>('PATCH', path(), { givenName: '' })).body.givenName).toBe('');
});

it.each([
  ['/marks/a', { ...mark('turned round', 2), endSeconds: 1 }],
  ['/marks/a', { ...mark('early', 1), startSeconds: -1 }],
  [`/marks/${'a'.repeat(65)}`, mark('long id', 1)],
  ['/boxes/a', { ...box, highHz: 50 }],
  ['/boxes/a', { ...box, gainDb: 3 }],
])('%s refuses %j', async (rest, body) => {
  const before = await read();
  expect((await server.call('PUT', path(rest), body)).status).toBe(422);
  expect(await read()).toEqual(before);
});
