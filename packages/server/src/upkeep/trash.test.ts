import { existsSync } from 'node:fs';
import { join } from 'node:path';
import type {
  Chain,
  Preset,
  Problem,
  RecipeFile,
  Recording,
  Run,
  Storage,
  Target,
  Title,
  TrashEmptied,
  TrashEntry,
  TrashKind,
} from '@tonos/contract';
import { TestServer, voiceFile } from '../testing/test-server.ts';

let server: TestServer;
beforeEach(async () => {
  server = await TestServer.start();
});
afterEach(() => server.remove());

const post = async <T>(path: string, body: unknown) => (await server.call<T>('POST', path, body)).body;
const trash = async () => (await server.call<TrashEntry[]>('GET', '/trash')).body;
const remove = (path: string) => server.call<Problem>('DELETE', path);
const restore = (kind: TrashKind, id: string) => server.call<TrashEntry[]>('POST', '/trash/restore', { kind, id });
const empty = (body: object = {}) => post<TrashEmptied>('/trash/empty', body);
const blob = (sha256: string) => join(server.dataFolder, 'blobs', sha256);
const survey = (sha256: string) => join(server.dataFolder, 'derived', `${sha256}.survey`);

async function bringIn(titleId: string, name: string, seed: number, query = ''): Promise<Recording> {
  const form = new FormData();
  form.append('files', await voiceFile(name, 3, seed));
  const [{ id }] = (await server.call<Recording[]>('POST', `/titles/${titleId}/recordings${query}`, form)).body;
  return server.until<Recording>(`/recordings/${id}`, ({ status }) => status !== 'measuring');
}

async function titleWithRun() {
  const title = await post<Title>('/titles', { name: 'High Water', kind: 'podcast' });
  const recording = await bringIn(title.id, 'a.wav', 3);
  const chain = await post<Chain>('/chains', { name: 'Plain', steps: [] });
  const output = { container: 'wav', bitDepth: 16 };
  const limits = [{ measure: 'truePeakDbtp', max: -1 }];
  const target = await post<Target>('/targets', { name: 'House', limits, output });
  const asked = { titleId: title.id, recordingIds: [recording.id], chainId: chain.id, targetId: target.id };
  const { id } = await post<Run>('/runs', asked);
  const run = await server.until<Run>(`/runs/${id}`, ({ status }) => status === 'finished');
  return { title, recording, chain, target, asked, run, delivered: run.items[0].output!.sha256 };
}

it('P24: everything that people make goes to the trash, is out of sight, and comes back whole', async () => {
  const { title, recording, run } = await titleWithRun();
  const preset = await post<Preset>('/presets', { kind: 'gain', name: 'Ours', settings: { gainDb: 4 } });
  const chain = await post<Chain>('/chains', {
    name: 'Free',
    steps: [{ id: 'g', kind: 'gain', settings: { gainDb: 2 } }],
  });
  const target = await post<Target>('/targets', { name: 'Free', limits: [], output: { container: 'wav' } });
  const places: [TrashKind, string, string, string][] = [
    ['run', run.id, '/runs', `/runs/${run.id}`],
    ['recording', recording.id, `/titles/${title.id}/recordings`, ''],
    ['title', title.id, '/titles', `/titles/${title.id}`],
    ['chain', chain.id, '/chains', `/chains/${chain.id}`],
    ['target', target.id, '/targets', `/targets/${target.id}`],
    ['preset', preset.id, '/presets', ''],
  ];
  for (const [kind, id, list, one] of places) {
    const listed = async () => (await server.call<{ id: string }[]>('GET', list)).body.find((each) => each.id === id);
    const [before, whole] = [await listed(), one && (await server.call('GET', one)).body];
    expect(before).toBeDefined();
    expect([kind, (await remove(`/${kind}s/${id}`)).status]).toEqual([kind, 204]);
    expect(await listed()).toBeUndefined();
    expect(await trash()).toMatchObject([{ kind, id }]);
    if (one) expect(await server.call('GET', one)).toMatchObject({ status: 404, body: { code: 'in-trash' } });
    expect((await remove(`/${kind}s/${id}`)).status).toBe(404);
    expect(await restore(kind, id)).toMatchObject({ status: 200, body: [] });
    expect(await listed()).toEqual(before);
    if (one) expect((await server.call('GET', one)).body).toEqual(whole);
    expect((await restore(kind, id)).status).toBe(404);
  }
  // with a title goes what lies in it
  await remove(`/titles/${title.id}`);
  expect((await server.call('GET', '/runs')).body).toEqual([]);
  expect((await server.call('GET', `/runs/${run.id}`)).status).toBe(404);
  expect(await trash()).toMatchObject([{ kind: 'title', contains: { recordings: 1, runs: 1, deliveries: 1 } }]);
});

it('nothing goes that is used, under way, or ships', async () => {
  const { title, chain, target, asked } = await titleWithRun();
  expect(await remove(`/chains/${chain.id}`)).toMatchObject({ status: 409, body: { code: 'in-use' } });
  expect(await remove(`/targets/${target.id}`)).toMatchObject({ status: 409, body: { code: 'in-use' } });
  for (const list of ['targets', 'presets']) {
    const [shipped] = (await server.call<{ id: string }[]>('GET', `/${list}`)).body;
    expect(await remove(`/${list}/${shipped.id}`)).toMatchObject({ status: 409, body: { code: 'read-only' } });
  }
  // a recording that is not measured yet lets its run wait
  const form = new FormData();
  form.append('files', await voiceFile('long.wav', 40, 9));
  const [{ id }] = (await server.call<Recording[]>('POST', `/titles/${title.id}/recordings`, form)).body;
  const run = await post<Run>('/runs', { ...asked, recordingIds: [id] });
  await server.call('PATCH', `/runs/${run.id}`, { paused: true });
  for (const path of [`/titles/${title.id}`, `/runs/${run.id}`])
    expect(await remove(path)).toMatchObject({ status: 409, body: { code: 'under-way' } });
  await remove(`/recordings/${id}`);
  expect(await empty()).toMatchObject({
    removed: [],
    kept: [{ kind: 'recording', id, why: 'a run is working on it' }],
  });
  await server.call('POST', `/runs/${run.id}/cancel`);
  expect((await remove(`/titles/${title.id}`)).status).toBe(204);
  // nor is anything begun there
  expect(await server.call('POST', '/runs', asked)).toMatchObject({ status: 404, body: { code: 'in-trash' } });
});

it('emptying removes rows and files, says what went and how much room it gave; what another title needs stays', async () => {
  const { title, recording, chain, target, run, delivered } = await titleWithRun();
  const second = await bringIn(title.id, 'take-2.wav', 5, `?replaces=${recording.id}`);
  const other = await post<Title>('/titles', { name: 'Low Water', kind: 'podcast' });
  const same = await bringIn(other.id, 'same.wav', 3);
  expect(same.sha256).toBe(recording.sha256);
  await remove(`/titles/${title.id}`);
  const [entry] = await trash();
  expect(entry.contains).toEqual({ recordings: 2, runs: 1, deliveries: 1 });
  expect(entry.bytes).toBeGreaterThan(second.sizeBytes + run.items[0].output!.sizeBytes); // pictures and copies too
  // the chain and the target serve nobody but that run, and go after it
  expect((await remove(`/chains/${chain.id}`)).status).toBe(204);
  expect((await remove(`/targets/${target.id}`)).status).toBe(204);
  expect(await empty({ kind: 'chain' })).toMatchObject({ removed: [], kept: [{ kind: 'chain', id: chain.id }] });
  const { removed, kept, freedBytes } = await empty();
  expect([removed.map(({ kind }) => kind), kept]).toEqual([['title', 'chain', 'target'], []]);
  expect(freedBytes).toBe(entry.bytes);
  for (const sha256 of [second.sha256, delivered])
    expect([existsSync(blob(sha256)), existsSync(survey(sha256))]).toEqual([false, false]);
  expect([existsSync(blob(same.sha256)), existsSync(survey(same.sha256))]).toEqual([true, true]);
  expect(await trash()).toEqual([]);
  expect((await server.call('GET', `/recordings/${second.id}`)).status).toBe(404);
  expect((await server.call<Storage>('GET', '/storage')).body).toMatchObject({
    titles: [{ id: other.id, recordings: 1 }],
    unused: { files: 0 },
  });
  // the next start finds nothing that is amiss
  await server.close();
  await server.open();
  expect((await server.call('POST', '/storage/check')).body).toEqual({ files: 1, faults: [], database: [] });
});

it('of a recording that was removed for good, what was delivered stays, and says so', async () => {
  const { title, recording, run, delivered } = await titleWithRun();
  await remove(`/recordings/${recording.id}`);
  expect(await empty({ kind: 'recording', id: recording.id })).toMatchObject({ removed: [{ name: 'a.wav' }] });
  expect(existsSync(blob(recording.sha256))).toBe(false);
  for (const path of ['', '/audio', '/takes', '/overview'])
    expect((await server.call('GET', `/recordings/${recording.id}${path}`)).status).toBe(404);
  expect((await server.call('GET', `/titles/${title.id}/trash`)).body).toEqual([]);
  const item = `/runs/${run.id}/items/${run.items[0].id}`;
  expect((await server.call<Run>('GET', `/runs/${run.id}`)).body.items).toEqual(run.items);
  expect((await server.call<RecipeFile>('GET', `${item}/recipe`)).body).toMatchObject({
    source: { sha256: recording.sha256 },
    sourceRemoved: true,
  });
  expect((await fetch(`${server.origin}/api${item}/output`)).status).toBe(200);
  const form = new FormData();
  form.append('files', await voiceFile('again.wav', 2));
  const again = `/titles/${title.id}/recordings?replaces=${recording.id}`;
  expect((await server.call('POST', again, form)).status).toBe(404); // nothing can take its place
  const retry = { itemIds: [run.items[0].id] };
  expect(await server.call('POST', `/runs/${run.id}/retry`, retry)).toMatchObject({
    status: 409,
    body: { code: 'source-removed' },
  });
  // nothing makes the file again: it is not cleared to save room
  await server.call('POST', '/storage/clear-renders', { titleId: title.id });
  expect(existsSync(blob(delivered))).toBe(true);
  expect((await server.call('POST', '/storage/check')).body).toMatchObject({ faults: [] });
});

it('a recording goes with its earlier takes and their files; an earlier take goes alone', async () => {
  const title = await post<Title>('/titles', { name: 'High Water', kind: 'podcast' });
  const first = await bringIn(title.id, 'a.wav', 3);
  const second = await bringIn(title.id, 'b.wav', 4, `?replaces=${first.id}`);
  const third = await bringIn(title.id, 'c.wav', 5, `?replaces=${second.id}`);
  await remove(`/recordings/${second.id}`);
  expect((await server.call<Recording[]>('GET', `/recordings/${third.id}/takes`)).body.map(({ id }) => id)).toEqual([
    third.id,
    first.id,
  ]);
  expect(await empty()).toMatchObject({ removed: [{ name: 'b.wav' }] });
  expect([first, second, third].map(({ sha256 }) => existsSync(blob(sha256)))).toEqual([true, false, true]);
  await remove(`/recordings/${third.id}`);
  expect(await trash()).toMatchObject([{ name: 'c.wav', contains: { recordings: 2 } }]);
  await empty();
  expect([first, third].map(({ sha256 }) => existsSync(blob(sha256)))).toEqual([false, false]);
  expect((await server.call('GET', `/recordings/${first.id}`)).status).toBe(404);
});

it.each([
  ['/trash/restore', { kind: 'poem', id: 'a' }, 422],
  ['/trash/restore', { kind: 'title' }, 422],
  ['/trash/restore', { kind: 'title', id: 'nobody' }, 404],
  ['/trash/empty', { id: 'a' }, 422],
  ['/trash/empty', { kind: 'title', id: 'nobody' }, 404],
])('%s refuses %j', async (path, body, status) => {
  expect((await server.call('POST', path, body)).status).toBe(status);
});
