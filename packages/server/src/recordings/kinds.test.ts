import type { Problem, Recording, Run, Standing, Target, Title } from '@tonos/contract';
import { TestServer, voiceFile } from '../testing/test-server.ts';

let server: TestServer;
let title: Title;
let recordings: Recording[];

const get = async <T>(path: string) => (await server.call<T>('GET', path)).body;

beforeAll(async () => {
  server = await TestServer.start();
  title = (await server.call<Title>('POST', '/titles', { name: 'Night Work', kind: 'podcast' })).body;
  const form = new FormData();
  for (const name of ['jingle.wav', 'one.wav', 'two.wav']) form.append('files', await voiceFile(name));
  const added = (await server.call<Recording[]>('POST', `/titles/${title.id}/recordings`, form)).body;
  recordings = await Promise.all(
    added.map(({ id }) => server.until<Recording>(`/recordings/${id}`, ({ status }) => status === 'ready')),
  );
});
afterAll(() => server.remove());

it('music is no chapter: it is not counted, has no standing, takes no track, and lies on a shelf for all titles', async () => {
  const [jingle, one] = recordings;
  expect(jingle).toMatchObject({ kind: 'voice', licence: '', loop: null });
  const changed = await server.call<Recording>('PATCH', `/recordings/${jingle.id}`, {
    kind: 'music',
    licence: 'Of the house',
    loop: { startSeconds: 0.5, endSeconds: 1.5 },
  });
  expect(changed.body).toMatchObject({ kind: 'music', licence: 'Of the house', loop: { startSeconds: 0.5 } });
  expect((await get<Recording[]>('/shelf')).map(({ id }) => id)).toEqual([jingle.id]);
  expect(await get<Title>(`/titles/${title.id}`)).toMatchObject({ recordingCount: 2 });
  expect((await get<Standing[]>(`/titles/${title.id}/standing`)).map(({ recordingId }) => recordingId)).not.toContain(
    jingle.id,
  );
  const target = (await get<Target[]>('/targets')).find(({ name }) => name === 'Podcast, mono')!;
  const chain = await server.call<{ id: string }>('POST', '/chains', { name: 'Plain', steps: [] });
  const { body: run } = await server.call<Run>('POST', '/runs', {
    titleId: title.id,
    recordingIds: [one.id],
    chainId: chain.body.id,
    targetId: target.id,
  });
  const { items } = await server.until<Run>(`/runs/${run.id}`, ({ status }) => status === 'finished');
  const recipe = await get<{ notes: object }>(`/runs/${run.id}/items/${items[0].id}/recipe`);
  // second in the title, first of its chapters
  expect(recipe.notes).toMatchObject({ track: 1, trackTotal: 2 });
});

it('many are given a kind at once; a loop that ends before it begins is refused', async () => {
  const ids = recordings.map(({ id }) => id);
  await server.call('PATCH', '/recordings', { ids, kind: 'sound' });
  expect(await get<Recording[]>('/shelf')).toHaveLength(3);
  await server.call('PATCH', '/recordings', { ids, kind: 'voice' });
  expect(await get<Recording[]>('/shelf')).toEqual([]);
  const refused = await server.call<Problem>('PATCH', `/recordings/${ids[0]}`, {
    loop: { startSeconds: 2, endSeconds: 1 },
  });
  expect(refused).toMatchObject({ status: 422, body: { detail: expect.stringContaining('before its start') } });
});

it('a mark that was made while a recording was being measured stays, beside those of its file', async () => {
  const form = new FormData();
  form.append('files', await voiceFile('late.wav', 3));
  const [{ id }] = (await server.call<Recording[]>('POST', `/titles/${title.id}/recordings`, form)).body;
  await server.call('PUT', `/recordings/${id}/marks/m1`, { name: 'break 1', startSeconds: 1, endSeconds: 1 });
  const ready = await server.until<Recording>(`/recordings/${id}`, ({ status }) => status === 'ready');
  expect(ready.marks.map(({ name }) => name)).toEqual(['break 1']);
});
