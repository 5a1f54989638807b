import type {
  Chain,
  Problem,
  RecipeFile,
  Recording,
  RecordingGaps,
  ReportFile,
  Run,
  Standing,
  Target,
  Title,
  Today,
} from '@tonos/contract';
import { TestServer, voiceFile } from '../testing/test-server.ts';

let server: TestServer;
let title: Title;
let recording: Recording;
let pickUp: Recording;
let chain: Chain;
let target: Target;

const post = async <T>(path: string, body: unknown) => (await server.call<T>('POST', path, body)).body;
const read = async () => (await server.call<Recording>('GET', `/recordings/${recording.id}`)).body;
const put = (id: string, cut: object) =>
  server.call<Recording & Problem>('PUT', `/recordings/${recording.id}/cuts/${id}`, cut);
const standing = async () =>
  (await server.call<Standing[]>('GET', `/titles/${title.id}/standing`)).body.find(
    ({ recordingId }) => recordingId === recording.id,
  )!;

async function run() {
  const { id } = await post<Run>('/runs', {
    titleId: title.id,
    recordingIds: [recording.id],
    chainId: chain.id,
    targetId: target.id,
  });
  return server.until<Run>(`/runs/${id}`, ({ status }) => status === 'finished');
}

const takeOut = (startSeconds: number, endSeconds: number) => ({ kind: 'take-out', startSeconds, endSeconds });

beforeAll(async () => {
  server = await TestServer.start();
  title = await post<Title>('/titles', { name: 'High Water', kind: 'podcast' });
  const form = new FormData();
  form.append('files', await voiceFile('a.wav', 8));
  form.append('files', await voiceFile('again.wav', 5, 3));
  const added = await post<Recording[]>(`/titles/${title.id}/recordings`, form);
  [recording, pickUp] = await Promise.all(
    added.map(({ id }) => server.until<Recording>(`/recordings/${id}`, ({ status }) => status === 'ready')),
  );
  chain = await post<Chain>('/chains', { name: 'Plain', steps: [{ kind: 'gain', settings: { gainDb: 0 } }] });
  target = await post<Target>('/targets', {
    name: 'House',
    limits: [{ measure: 'truePeakDbtp', max: 0 }],
    output: { container: 'wav', bitDepth: 16 },
  });
});
afterAll(() => server.remove());

it('puts, changes and takes away cuts one by one, in the order of their places', async () => {
  expect((await put('late', takeOut(5, 6))).status).toBe(200);
  await put('early', { kind: 'pause', atSeconds: 2, lengthSeconds: 0.5 });
  await put('late', takeOut(5, 5.5));
  expect((await read()).cuts).toEqual([
    { id: 'early', kind: 'pause', on: true, atSeconds: 2, lengthSeconds: 0.5 },
    { id: 'late', on: true, ...takeOut(5, 5.5) },
  ]);
  expect((await server.call('DELETE', `/recordings/${recording.id}/cuts/early`)).status).toBe(204);
  expect((await server.call('DELETE', `/recordings/${recording.id}/cuts/early`)).status).toBe(404);
  await server.call('DELETE', `/recordings/${recording.id}/cuts/late`);
  expect((await read()).cuts).toEqual([]);
});

it.each([
  [
    'two that overlap, naming both',
    [
      { id: 'one', ...takeOut(1, 3) },
      { id: 'two', ...takeOut(2, 4) },
    ],
    /"one".*"two".*overlap/,
  ],
  ['one outside', [{ id: 'far', ...takeOut(7, 9) }], /"far".*outside/],
  ['all of it', [{ id: 'all', ...takeOut(0, 8) }], /everything out/],
])('refuses %s, and keeps what there was', async (_, cuts, message) => {
  const answer = await server.call<Problem>('PATCH', `/recordings/${recording.id}`, { cuts });
  expect(answer.status).toBe(422);
  expect(answer.body.detail).toMatch(message);
  expect((await read()).cuts).toEqual([]);
});

it('makes them before the chain; what is delivered says so, and is out of date once they change', async () => {
  await put('out', takeOut(3.1, 3.9));
  await put('in', { kind: 'pause', atSeconds: 7.2, lengthSeconds: 2 });
  await put('again', {
    kind: 'pick-up',
    startSeconds: 1,
    endSeconds: 2,
    recordingId: pickUp.id,
    fromSeconds: 1.2,
    toSeconds: 2.7,
  });
  const {
    id,
    items: [item],
  } = await run();
  expect(item).toMatchObject({ status: 'within', error: null });
  expect(item.after?.durationSeconds).toBeCloseTo(8 - 0.8 + 2 + 0.5, 3);
  expect(item.timeMap?.at(-1)?.[0]).toBeCloseTo(8, 3);
  expect(item.timeMap?.at(-1)?.[1]).toBeCloseTo(9.7, 3);
  const { body } = await server.call<RecipeFile>('GET', `/runs/${id}/items/${item.id}/recipe`);
  expect(body.marked.cuts).toHaveLength(3);
  expect(body.pickUps).toEqual({ [pickUp.id]: { name: 'again.wav', sha256: pickUp.sha256 } });
  expect(await standing()).toMatchObject({ state: 'within', outdatedBy: [] });
  await put('in', { kind: 'pause', atSeconds: 7.2, lengthSeconds: 2, on: false });
  expect(await standing()).toMatchObject({ state: 'out-of-date', outdatedBy: ['marks'] });
});

it('tells where nobody speaks, so that the ear goes from one pause to the next', async () => {
  const gaps = async () => (await server.call<RecordingGaps>('GET', `/recordings/${recording.id}/gaps`)).body;
  const { pauses, breaths } = await gaps();
  // it speaks from 1 to 3 s and from 4 to 7 s
  const [pause] = pauses.filter(({ startSeconds, endSeconds }) => endSeconds - startSeconds > 0.5);
  expect(Math.abs(pause.startSeconds - 3)).toBeLessThan(0.2);
  expect(Math.abs(pause.endSeconds - 4)).toBeLessThan(0.2);
  expect(breaths).toEqual([]);
  expect(await gaps()).toEqual({ pauses, breaths });
});

it('a note on a place changes nothing of what was delivered', async () => {
  const { id } = await run();
  const note = { name: 'page', startSeconds: 2, endSeconds: 2, note: { text: 'A page turns here.', by: 'Ada' } };
  const { body } = await server.call<Recording>('PUT', `/recordings/${recording.id}/marks/n`, note);
  expect(body.marks).toMatchObject([{ id: 'n', note: { state: 'open', by: 'Ada', at: expect.stringMatching(/^20/) } }]);
  expect(await standing()).toMatchObject({ state: 'within', outdatedBy: [] });
  const today = (await server.call<Today>('GET', '/today')).body;
  expect(today.notes).toMatchObject([
    { recordingId: recording.id, markId: 'n', atSeconds: 2, text: 'A page turns here.' },
  ]);
  const report = (await server.call<ReportFile>('GET', `/runs/${id}/report/json`)).body;
  expect(report.items[0].openNotes).toEqual([{ atSeconds: 2, text: 'A page turns here.' }]);
  await server.call('PUT', `/recordings/${recording.id}/marks/n`, { ...note, note: { ...note.note, state: 'done' } });
  expect((await server.call<Today>('GET', '/today')).body.notes).toEqual([]);
  await server.call('PUT', `/recordings/${recording.id}/marks/m`, { name: 'range', startSeconds: 2, endSeconds: 3 });
  expect(await standing()).toMatchObject({ outdatedBy: ['marks'] });
});

it('says which pick-up is gone; what was rendered before still plays', async () => {
  const before = await run();
  expect(before.items[0].status).toBe('within');
  await server.call('DELETE', `/recordings/${pickUp.id}`);
  await server.call('POST', '/trash/empty', { kind: 'recording', id: pickUp.id });
  const { items } = await run();
  expect(items[0]).toMatchObject({ status: 'failed', error: { message: expect.stringMatching(/pick-up/) } });
  const output = await fetch(`${server.origin}/api/runs/${before.id}/items/${before.items[0].id}/output`);
  expect(output.status).toBe(200);
  await output.arrayBuffer();
});
