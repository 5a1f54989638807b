import type { Chain, Recording, RecordingOrder, Run, RunItem, Target, Title } from '@tonos/contract';
import { TestServer, voiceFile } from '../testing/test-server.ts';

/** Lists are given out of what is kept of each row: whatever is changed, by whichever call, they tell it. */

let server: TestServer;
let titleId: string;
let recordings: Recording[];
beforeAll(async () => {
  server = await TestServer.start();
  titleId = (await server.call<Title>('POST', '/titles', { name: 'Ebb', kind: 'podcast' })).body.id;
  const form = new FormData();
  for (const [i, name] of ['a.wav', 'b.wav', 'c.wav'].entries()) form.append('files', await voiceFile(name, 3, i + 1));
  await server.call('POST', `/titles/${titleId}/recordings`, form);
  recordings = await server.until<Recording[]>(`/titles/${titleId}/recordings`, (list) =>
    list.every(({ status }) => status === 'ready'),
  );
});
afterAll(() => server.remove());

const list = async () => (await server.call<Recording[]>('GET', `/titles/${titleId}/recordings`)).body;
const one = async (id: string) => (await server.call<Recording>('GET', `/recordings/${id}`)).body;

it('the recordings of a title are those that each call of its own tells of, after every change', async () => {
  const [a, b, c] = recordings.map(({ id }) => id);
  const chainId = (await server.call<Chain>('POST', '/chains', { name: 'Plain', steps: [] })).body.id;
  const box = { startSeconds: 0.5, endSeconds: 1, lowHz: 200, highHz: 800, gainDb: -20 };
  const mark = { id: 'm', name: 'Cough', startSeconds: 1, endSeconds: 1.5 };
  const changes: [method: string, path: string, body: unknown][] = [
    ['PATCH', '/recordings', { ids: [a, b], speaker: 'Ada', room: 'booth' }],
    ['PATCH', '/recordings', { ids: [a], adjust: { chainId, steps: [{ id: 'hp', on: false }] } }],
    ['PATCH', `/recordings/${b}`, { marks: [mark] }],
    ['PATCH', `/recordings/${b}`, { boxes: [box] }],
    ['PATCH', `/recordings/${c}`, { roomToneChoice: { use: [{ startSeconds: 0, endSeconds: 0.5 }], never: [] } }],
    ['PUT', `/titles/${titleId}/order`, { recordingIds: [c, a, b] } satisfies RecordingOrder],
    ['PATCH', `/recordings/${b}`, { marks: [] }],
  ];
  let before = JSON.stringify(await list());
  for (const [method, path, body] of changes) {
    expect((await server.call(method, path, body)).status).toBe(200);
    const now = await list();
    expect(now).toEqual(await Promise.all(now.map(({ id }) => one(id))));
    // every change shows, and nothing shows that was not changed
    expect(JSON.stringify(now)).not.toBe(before);
    before = JSON.stringify(now);
    expect(JSON.stringify(await list())).toBe(before);
  }
  expect((await list()).map(({ id }) => id)).toEqual([c, a, b]);
});

it('what lies in the trash is not in the list, and comes back as it was', async () => {
  const [first] = await list();
  await server.call('PATCH', '/recordings', { ids: [first.id], trashed: true });
  expect((await list()).map(({ id }) => id)).not.toContain(first.id);
  await server.call('PATCH', '/recordings', { ids: [first.id], trashed: false });
  expect((await list()).find(({ id }) => id === first.id)).toEqual(first);
});

it('the items of a run are what each call that changes one tells of', async () => {
  const chain = (
    await server.call<Chain>('POST', '/chains', { name: 'Loud', steps: [{ kind: 'gain', settings: { gainDb: 3 } }] })
  ).body;
  const target = (
    await server.call<Target>('POST', '/targets', {
      name: 'Out of reach',
      limits: [{ measure: 'loudnessRangeLu', min: 80 }],
      output: { container: 'wav', bitDepth: 16 },
    })
  ).body;
  const recordingIds = recordings.map(({ id }) => id);
  const { id } = (
    await server.call<Run>('POST', '/runs', { titleId, recordingIds, chainId: chain.id, targetId: target.id })
  ).body;
  const board = async () => (await server.call<Run>('GET', `/runs/${id}`)).body;
  const finished = () => server.until<Run>(`/runs/${id}`, ({ status }) => status === 'finished');
  const run = await finished();
  expect(run.items.map(({ status }) => status)).toEqual(['off-target', 'off-target', 'off-target']);

  const path = `/runs/${id}/items/${run.items[1].id}`;
  const accepted = await server.call<RunItem>('PUT', `${path}/acceptance`, { reason: 'It has to go out' });
  expect((await board()).items[1]).toEqual(accepted.body);
  expect(accepted.body.accepted).toMatchObject({ reason: 'It has to go out' });
  await server.call('DELETE', `${path}/acceptance`);
  expect((await board()).items[1]).toEqual(run.items[1]);

  const before = run.items[0].after!.rmsDbfs!;
  await server.call('PATCH', '/recordings', {
    ids: [run.items[0].recordingId],
    adjust: { chainId: chain.id, steps: [{ id: chain.steps[0].id, settings: { gainDb: -9 } }] },
  });
  await server.call('POST', `/runs/${id}/retry`, { itemIds: [run.items[0].id] });
  const again = await finished();
  expect(again.items[0].after!.rmsDbfs).toBeCloseTo(before - 12, 1);
  expect(again.items.slice(1)).toEqual(run.items.slice(1));
  const { items: _, targetLimits: __, ...summary } = again;
  expect((await server.call<Run[]>('GET', '/runs')).body).toContainEqual(summary);
});

it('answers in JSON, and refuses what is not there', async () => {
  const answer = await fetch(`${server.origin}/api/titles/${titleId}/recordings`);
  expect(answer.headers.get('content-type')).toMatch(/^application\/json; charset=utf-8/);
  expect((await server.call('GET', '/titles/nobody/recordings')).status).toBe(404);
  expect((await server.call('GET', '/runs/nobody')).status).toBe(404);
});
