import {
  type Chain,
  type DeliveredFigures,
  type Recording,
  type RecordingItem,
  type Run,
  type Standing,
  type Target,
  TITLE_MEASURES,
  type Title,
  type TitleStanding,
  type Today,
} from '@tonos/contract';
import { TestServer, voiceFile, wavFile } from '../testing/test-server.ts';

let server: TestServer;
beforeEach(async () => {
  server = await TestServer.start();
});
afterEach(() => server.remove());

const post = async <T>(path: string, body: unknown) => (await server.call<T>('POST', path, body)).body;
const patch = (path: string, body: unknown) => server.call('PATCH', path, body);
const get = async <T>(path: string) => (await server.call<T>('GET', path)).body;

async function bringIn(titleId: string, file: File, query = ''): Promise<Recording> {
  const form = new FormData();
  form.append('files', file);
  const [{ id }] = (await server.call<Recording[]>('POST', `/titles/${titleId}/recordings${query}`, form)).body;
  return server.until<Recording>(`/recordings/${id}`, ({ status }) => status !== 'measuring');
}

/** A title with one recording, a chain, and a target that any voice meets or none does. */
async function given(limits: object[] = [{ measure: 'truePeakDbtp', max: 0 }]) {
  const title = await post<Title>('/titles', { name: 'High Water', kind: 'podcast' });
  const recording = await bringIn(title.id, await voiceFile('a.wav', 3));
  const chain = await post<Chain>('/chains', {
    name: 'Plain',
    steps: [{ id: 'g', kind: 'gain', settings: { gainDb: 0 } }],
  });
  const file = { name: 'House', limits, output: { container: 'wav', bitDepth: 16 } };
  const target = await post<Target>('/targets', file);
  const ask = (recordingIds: string[], targetId = target.id) => ({
    titleId: title.id,
    recordingIds,
    chainId: chain.id,
    targetId,
  });
  const run = async (ids: string[], targetId?: string) => {
    const { id } = await post<Run>('/runs', ask(ids, targetId));
    return server.until<Run>(`/runs/${id}`, ({ status }) => status === 'finished');
  };
  const standing = () => get<Standing[]>(`/titles/${title.id}/standing`);
  return { title, recording, chain, target, file, run, standing };
}

it('tells what was delivered of each recording, and what has changed since', async () => {
  const { title, recording, chain, target, file, run, standing } = await given();
  const nothing = { recordingId: recording.id, state: 'none', runId: null, itemId: null, status: null, outdatedBy: [] };
  expect(await standing()).toEqual([nothing]);
  const first = await run([recording.id]);
  const within = { ...nothing, state: 'within', runId: first.id, itemId: first.items[0].id, status: 'within' };
  expect(await standing()).toEqual([within]);
  expect(await get<TitleStanding[]>('/standing')).toMatchObject([
    { titleId: title.id, counts: { within: 1, none: 0 }, lastRunId: first.id },
  ]);

  const outdated = async () => (await standing())[0].outdatedBy;
  // what is only said of it makes no other file
  await patch('/recordings', { ids: [recording.id], speaker: 'Ada' });
  expect(await standing()).toEqual([within]);
  const steps = [{ id: 'g', settings: { gainDb: -1 } }];
  await patch('/recordings', { ids: [recording.id], adjust: { chainId: chain.id, steps } });
  expect(await standing()).toEqual([{ ...within, state: 'out-of-date', outdatedBy: ['adjustments'] }]);
  await patch('/recordings', { ids: [recording.id], adjust: { chainId: chain.id, steps: [], replace: true } });
  expect(await standing()).toEqual([within]);
  const mark = { name: 'Here', startSeconds: 1, endSeconds: 1 };
  await server.call('PUT', `/recordings/${recording.id}/marks/m1`, mark);
  expect(await outdated()).toEqual(['marks']);
  await server.call('DELETE', `/recordings/${recording.id}/marks/m1`);
  expect(await outdated()).toEqual([]);
  await post(`/chains/${chain.id}/revisions`, { steps: [{ id: 'g', kind: 'gain', settings: { gainDb: -2 } }] });
  expect(await outdated()).toEqual(['chain']);
  const next = (await server.call<Target>('PUT', `/targets/${target.id}`, { ...file, notes: 'again' })).body;
  expect(await outdated()).toEqual(['chain', 'target']);
  const take = await bringIn(title.id, await voiceFile('a2.wav', 3, 9), `?replaces=${recording.id}`);
  expect(await standing()).toMatchObject([
    { recordingId: take.id, state: 'out-of-date', outdatedBy: ['take', 'chain', 'target'] },
  ]);
  const second = await run([take.id], next.id);
  expect(await standing()).toMatchObject([{ recordingId: take.id, state: 'within', runId: second.id, outdatedBy: [] }]);
  // the run before it tells again where that one goes
  await server.call('DELETE', `/runs/${second.id}`);
  expect(await standing()).toMatchObject([{ state: 'out-of-date', runId: first.id }]);
});

it('today names what waits for somebody, and nothing that is well', async () => {
  const { title, recording, run, standing } = await given([{ measure: 'integratedLufs', min: -90, max: -80 }]);
  expect(await get<Today>('/today')).toMatchObject({ runs: [], items: [], unreadable: [], arrivals: [] });
  const broken = await bringIn(title.id, new File(['no sound at all'], 'broken.wav'));
  const silent = await bringIn(title.id, await wavFile('silent.wav', new Float32Array(22050 * 2), 22050));
  const finished = await run([recording.id, broken.id, silent.id]);
  const today = await get<Today>('/today');
  expect(Date.parse(today.checkedAt)).toBeGreaterThan(Date.now() - 60_000);
  expect(today.unreadable).toMatchObject([
    { name: 'broken.wav', titleName: 'High Water', error: { code: expect.any(String) } },
  ]);
  const itemOf = (id: string) => finished.items.find(({ recordingId }) => recordingId === id)!;
  expect(today.items.map(({ name, itemId, runId }) => [name, itemId, runId])).toEqual(
    [recording, broken, silent].map(({ id, name }) => [name, itemOf(id).id, finished.id]),
  );
  const over = today.items[0].sentence;
  expect([over.slice(0, 17), over.slice(-3)]).toEqual(['Loudness over by ', '\u00a0LU']);
  expect(today.items[1]).toMatchObject({ status: 'failed', sentence: expect.stringContaining('broken.wav') });
  expect(today.disk.freeBytes).toBeGreaterThan(0);
  // accepted with a reason, or thrown away: settled
  await server.call('PUT', `/runs/${finished.id}/items/${itemOf(recording.id).id}/acceptance`, { reason: 'As wanted' });
  expect((await standing())[0].state).toBe('accepted');
  await patch('/recordings', { ids: [broken.id], trashed: true });
  const left = await get<Today>('/today');
  expect([left.unreadable, left.items.map(({ name }) => name)]).toEqual([[], ['silent.wav']]);
  expect(left.disk.trashBytes).toBe(broken.sizeBytes);
});

it('today shows a run under way, and arrivals that can\u2019t be run yet', async () => {
  const { title, recording, chain, target } = await given();
  const asked = { titleId: title.id, recordingIds: [recording.id], chainId: chain.id, targetId: target.id };
  await bringIn(title.id, await voiceFile('b.wav', 3, 2));
  const { id } = await post<Run>('/runs', asked);
  await patch(`/runs/${id}`, { paused: true });
  const { runs } = await get<Today>('/today');
  for (const run of runs) expect(run).toMatchObject({ id, titleName: 'High Water', share: expect.any(Number) });
  const waiting = await post<Title>('/titles', { name: 'Low Water', kind: 'podcast' });
  await patch(`/titles/${waiting.id}`, { inbox: { root: 0, path: '', run: true } });
  const { mkdir, writeFile } = await import('node:fs/promises');
  const inbox = `${server.dataFolder}/inbox`;
  await mkdir(inbox, { recursive: true });
  await writeFile(`${inbox}/c.wav`, Buffer.from(await (await voiceFile('c.wav', 2, 4)).arrayBuffer()));
  const { arrivals } = await server.until<Today>('/today', (today) => today.arrivals.length > 0);
  expect(arrivals).toMatchObject([{ titleName: 'Low Water', recordingIds: [expect.any(String)] }]);
  expect(arrivals[0].sentence).toMatch(/no chain and no target/);
});

it('the figures of what was delivered, the runs of a recording in any of its takes, and how long runs took', async () => {
  const { title, recording, chain, run } = await given();
  const silent = await bringIn(title.id, await wavFile('silent.wav', new Float32Array(96_000), 48_000));
  expect(await get(`/titles/${title.id}/figures`)).toEqual([]);
  const first = await run([silent.id, recording.id]);
  const voice = first.items.find(({ recordingId }) => recordingId === recording.id)!;
  const figures = await get<DeliveredFigures[]>(`/titles/${title.id}/figures`);
  // in the title's order; digital silence has failed and delivered nothing
  expect(figures).toEqual([
    {
      recordingId: recording.id,
      runId: first.id,
      itemId: voice.id,
      delivered: Object.fromEntries(TITLE_MEASURES.map((measure) => [measure, voice.after![measure]])),
    },
  ]);
  expect(first).toMatchObject({ counts: { within: 1, failed: 1 }, accepted: 0 });
  // what failed was not rendered: three seconds of voice alone
  expect(first.soundSeconds).toBeCloseTo(3, 3);
  expect(first.workSeconds).toBeCloseTo(voice.seconds!, 9);

  const take = await bringIn(title.id, await voiceFile('a2.wav', 3, 9), `?replaces=${recording.id}`);
  const second = await run([take.id]);
  const [chainName, targetName] = [chain.name, 'House'];
  for (const id of [recording.id, take.id])
    expect(await get<RecordingItem[]>(`/recordings/${id}/items`)).toMatchObject([
      { runId: second.id, recordingId: take.id, status: 'within', run: { chainName, targetName, revision: 1 } },
      { runId: first.id, recordingId: recording.id, status: 'within', after: voice.after },
    ]);
  await server.call('DELETE', `/runs/${second.id}`);
  expect(await get<RecordingItem[]>(`/recordings/${take.id}/items`)).toMatchObject([{ runId: first.id }]);
  expect((await server.call('GET', '/recordings/unknown/items')).status).toBe(404);
});
