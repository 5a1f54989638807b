import type {
  ForecastLine,
  OrderSummary,
  Problem,
  ProgrammeLedgerLine,
  RecipeFile,
  Recording,
  ReportFile,
  Run,
  RunningOrder,
  Target,
  Title,
} from '@tonos/contract';
import { babble, mixed, noise, sine } from '@tonos/core/testing';
import { TestServer, wavFile } from '../testing/test-server.ts';

const RATE = 16_000;
let server: TestServer;
let title: Title;
let recordings: Record<string, Recording>;
let target: Target;

const post = async <T>(path: string, body: unknown) => (await server.call<T>('POST', path, body)).body;
const get = async <T>(path: string) => (await server.call<T>('GET', path)).body;
const idOf = (name: string) => recordings[name].id;

const PARTS = () => [
  { id: 'opening', group: 'music', source: { recording: idOf('music.wav') }, chapter: 'Opening' },
  {
    id: 'body',
    name: 'Talk',
    group: 'voices',
    source: { place: 'body' },
    begins: { after: 'opening', gapSeconds: -0.5 },
  },
  { id: 'spot', group: 'music', source: { place: 'spot' }, begins: { into: 'body', mark: 'break' } },
];
const weekly = (parts: unknown[] = PARTS(), rest: object = {}) => ({
  format: 'tonos.order/1',
  name: 'Weekly',
  groups: [{ id: 'voices', chain: 'Conversation' }, { id: 'music' }],
  parts,
  ...rest,
});
const add = (order: unknown) => server.call<RunningOrder & Problem>('POST', `/titles/${title.id}/orders`, order);
const start = (orderId: string, fills: Record<string, string>[], more = {}) =>
  server.call<Run & Omit<Problem, 'status'>>('POST', '/runs', {
    titleId: title.id,
    orderId,
    targetId: target.id,
    fills,
    ...more,
  });
const finished = (id: string) =>
  server.until<Run>(`/runs/${id}`, ({ status }) => status !== 'queued' && status !== 'working', 120);

beforeAll(async () => {
  server = await TestServer.start();
  title = await post<Title>('/titles', { name: 'Night Work', kind: 'podcast' });
  const voice = (seed: number) => mixed(babble(5, RATE, seed), noise(0.0005, 5, RATE, seed)).map((x) => 0.3 * x);
  const form = new FormData();
  form.append('files', await wavFile('one.wav', voice(1), RATE));
  form.append('files', await wavFile('two.wav', voice(2), RATE));
  form.append('files', await wavFile('music.wav', sine(440, 0.1, 2, RATE), RATE));
  form.append('files', await wavFile('spot.wav', sine(880, 0.1, 1, RATE), RATE));
  form.append('files', new File(['no sound'], 'junk.wav'));
  const added = await post<Recording[]>(`/titles/${title.id}/recordings`, form);
  const read = await Promise.all(
    added.map(({ id }) => server.until<Recording>(`/recordings/${id}`, ({ status }) => status !== 'measuring')),
  );
  recordings = Object.fromEntries(read.map((recording) => [recording.name, recording]));
  const mark = { name: 'break', startSeconds: 3.5, endSeconds: 3.5 };
  await server.call('PUT', `/recordings/${idOf('one.wav')}/marks/m1`, mark);
  await server.call('PUT', `/recordings/${idOf('one.wav')}/marks/m2`, {
    name: 'Second half',
    startSeconds: 4,
    endSeconds: 4,
    chapter: true,
  });
  target = (await get<Target[]>('/targets')).find(({ name }) => name === 'Podcast, stereo')!;
});
afterAll(async () => {
  for (const error of server.errors) console.log(error);
  await server.remove();
});

it('keeps revisions and a draft; what somebody else changed meanwhile is not lost', async () => {
  const made = await add(weekly());
  expect(made.status).toBe(201);
  expect(made.body).toMatchObject({ revision: 1, name: 'Weekly', places: ['body', 'spot'], partCount: 3, draft: null });
  const { id } = made.body;
  const tagged = await fetch(`${server.origin}/api/orders/${id}`);
  const etag = tagged.headers.get('etag')!;
  const shorter = weekly(PARTS().slice(0, 2), { name: 'Weekly, short' });
  const drafted = await server.call<RunningOrder>(
    'PUT',
    `/orders/${id}/draft`,
    { order: shorter, basedOn: 1 },
    { 'if-match': etag },
  );
  expect(drafted.body.draft!.order.parts).toHaveLength(2);
  const stale = await server.call<Problem>(
    'PUT',
    `/orders/${id}/draft`,
    { order: weekly(), basedOn: 1 },
    { 'if-match': etag },
  );
  expect(stale).toMatchObject({ status: 412, body: { draft: { basedOn: 1 } } });
  const kept = await server.call<RunningOrder>('POST', `/orders/${id}/revisions`, {
    order: shorter,
    note: 'No spot',
    basedOn: 1,
  });
  expect(kept.body).toMatchObject({ revision: 2, name: 'Weekly, short', draft: null });
  expect(kept.body.revisions.map(({ revision, note, partCount }) => [revision, note, partCount])).toEqual([
    [2, 'No spot', 2],
    [1, '', 3],
  ]);
  expect((await server.call('POST', `/orders/${id}/revisions`, { order: weekly(), basedOn: 1 })).status).toBe(409);
  expect(await get(`/orders/${id}/revisions/1`)).toMatchObject({ order: { name: 'Weekly' } });
  expect((await server.call('DELETE', `/orders/${id}/draft`)).status).toBe(204);
});

it('refuses what can never be put together, by part and field', async () => {
  const circle = await add(weekly([{ ...PARTS()[0], begins: { after: 'body' } }, PARTS()[1]]));
  expect(circle).toMatchObject({ status: 422, type: expect.stringContaining('problem+json') });
  expect(circle.body.detail).toMatch(/Part "opening", begins\.after.*circle/);
  expect((await add(weekly([{ ...PARTS()[0], gainDb: 500 }]))).body.detail).toContain('parts.0.gainDb');
  expect((await add({ ...weekly(), format: 'tonos.chain/1' })).status).toBe(422);
  const { id } = (await add(weekly([{ ...PARTS()[0], source: { recording: 'nobody' } }]))).body;
  expect(await start(id, [{}])).toMatchObject({
    status: 404,
    body: { detail: expect.stringContaining('part "opening"') },
  });
});

it('a run has an item for each programme: told by its body, its parts, and a recipe by hashes', async () => {
  const { id } = (await add(weekly())).body;
  const [body, other, spot] = [idOf('one.wav'), idOf('two.wav'), idOf('spot.wav')];
  expect((await start(id, [{ body }])).body.detail).toMatch(/Programme 1.*part "spot", source\.place.*"spot"/);
  expect((await start(id, [{ body, spot, host: body }])).status).toBe(422);
  expect((await start(id, [{ body: other, spot }])).body.detail).toMatch(/Part "spot", begins\.mark.*"break"/);
  expect((await start(id, [])).body.detail).toContain('at least one programme');
  const started = await start(id, [
    { body, spot },
    { body: other, spot },
    { body, spot: idOf('junk.wav') },
  ]);
  expect(started).toMatchObject({ status: 201, body: { orderId: id, chainName: 'Weekly', revision: 1 } });
  const run = await finished(started.body.id);
  const [good, lacks, broken] = run.items;
  expect(good).toMatchObject({ status: 'within', recordingId: body, before: { durationSeconds: 5 } });
  expect(good.parts).toEqual([
    { id: 'opening', name: 'opening', startSeconds: 0, endSeconds: 2 },
    { id: 'body', name: 'Talk', startSeconds: 1.5, endSeconds: 7.5 },
    { id: 'spot', name: 'spot', startSeconds: 5, endSeconds: 6 },
  ]);
  // a moment of the body behind the opened place lies a second later, and behind the opening
  expect(good.timeMap!.at(-1)).toEqual([5, 7.5]);
  expect(Math.abs(good.after!.durationSeconds - 7.5)).toBeLessThan(0.03);
  expect(lacks).toMatchObject({ status: 'failed', error: { code: 'invalid-order' } });
  expect(broken).toMatchObject({ status: 'failed', error: { message: expect.stringContaining('junk.wav') } });

  const recipe = await get<RecipeFile>(`/runs/${run.id}/items/${good.id}/recipe`);
  expect(recipe.order!.parts.spot.sha256).toBe(recordings['spot.wav'].sha256);
  expect(recipe.order!.file.groups[0].chain).toMatchObject({ name: 'Conversation' });
  const report = await get<ReportFile>(`/runs/${run.id}/report/json`);
  expect(report).toMatchObject({ order: { name: 'Weekly', revision: 1 }, items: [{ parts: good.parts }, {}, {}] });
  const bytes = new Uint8Array(await (await fetch(`${server.origin}/api/runs/${run.id}/package`)).arrayBuffer());
  expect(Buffer.from(bytes).includes('one.chapters.json')).toBe(true);

  // again, as a new attempt: the same bytes
  await server.call('POST', `/runs/${run.id}/retry`, { itemIds: [good.id] });
  const again = (await finished(run.id)).items[0];
  expect(again.output!.sha256).toBe(good.output!.sha256);
  expect(await post(`/runs/${run.id}/remedies`, {})).toEqual([]);
});

it('a newer revision makes what was delivered out of date, and nothing that was delivered changes', async () => {
  const { id } = (await add(weekly(PARTS().slice(0, 2)))).body;
  const run = await finished((await start(id, [{ body: idOf('two.wav') }])).body.id);
  expect(run.items[0].status).toBe('within');
  const standing = async () =>
    (await get<{ recordingId: string; state: string; outdatedBy: string[] }[]>(`/titles/${title.id}/standing`)).find(
      ({ recordingId }) => recordingId === idOf('two.wav'),
    );
  expect(await standing()).toMatchObject({ state: 'within', outdatedBy: [] });
  await server.call('POST', `/orders/${id}/revisions`, { order: weekly(PARTS().slice(0, 2), { channels: 1 }) });
  expect(await standing()).toMatchObject({ state: 'out-of-date', outdatedBy: ['order'] });
  expect((await get<Run>(`/runs/${run.id}`)).items[0].output).toEqual(run.items[0].output);
});

async function linesOf<Line>(path: string, body: unknown): Promise<{ status: number; lines: Line[] }> {
  const response = await fetch(`${server.origin}/api${path}`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', origin: server.origin },
    body: JSON.stringify(body),
  });
  const lines = (await response.text()).trim().split('\n');
  return { status: response.status, lines: lines.map((line) => JSON.parse(line) as Line) };
}

it('is foretold before it is started: what each episode lacks, how long it will be, who will be within', async () => {
  const { id } = (await add(weekly())).body;
  const spot = idOf('spot.wav');
  const fills = [
    { body: idOf('one.wav'), spot },
    { body: idOf('two.wav'), spot },
    { body: idOf('one.wav') },
    { body: idOf('junk.wav'), spot: 'nowhere' },
  ];
  const question = { titleId: title.id, orderId: id, targetId: target.id, fills };
  const { status, lines } = await linesOf<ForecastLine>('/forecasts', question);
  expect(status).toBe(200);
  const [needs, good, markless, empty, broken, done] = lines;
  expect(needs).toMatchObject({ type: 'needs', collisions: [], soundSeconds: 7.5 });
  expect(good).toMatchObject({ name: 'one.wav', recordingId: idOf('one.wav'), lengthSeconds: 7.5, lacks: [] });
  if (good.type !== 'recording') throw new Error('no line of a programme');
  expect(good.within).not.toBeNull();
  expect(good.limits.find(({ measure }) => measure === 'integratedLufs')!.value).toBeCloseTo(-16, 0);
  expect(markless).toMatchObject({ within: null, lacks: [expect.stringContaining('has no mark "break"')] });
  expect(empty).toMatchObject({ within: null, lengthSeconds: null, lacks: ['Nothing fills \u201cspot\u201d.'] });
  expect(broken).toMatchObject({
    lacks: ['junk.wav can\u2019t be read.', 'The recording of \u201cspot\u201d is not there.'],
  });
  expect(done).toMatchObject({ type: 'done', seconds: expect.any(Number) });
});

describe('what it does to the levels', () => {
  const ask = (id: string, order: unknown, fill: Record<string, string>) =>
    linesOf<ProgrammeLedgerLine & Problem>(`/orders/${id}/ledger`, { order, fill });

  it('is told of an order under work, and remembered', async () => {
    const { id } = (await add(weekly())).body;
    const fill = { body: idOf('one.wav'), spot: idOf('spot.wav') };
    const louder = weekly(PARTS(), {
      groups: [
        { id: 'voices', chain: 'Conversation' },
        { id: 'music', gainDb: 3 },
      ],
    });
    const { lines } = await ask(id, louder, fill);
    const done = lines.at(-1)!;
    if (done.type !== 'done') throw new Error(JSON.stringify(done));
    const { ledger } = done;
    expect(ledger.lengthSeconds).toBeCloseTo(2 - 0.5 + 5 + 1, 3);
    expect(ledger.parts.map((part) => part.id)).toEqual(['opening', 'body', 'spot']);
    // a sine of 0.1 peaks at -20 dBTP
    expect(ledger.parts[0].figures.truePeakDbtp).toBeCloseTo(-20, 1);
    // one channel between two: each has half its power
    expect(ledger.groups[1].figures.truePeakDbtp).toBeCloseTo(-20 + 3 - 10 * Math.log10(2), 1);
    expect(Object.keys(ledger.found.groups.voices).length).toBeGreaterThan(0);
    expect((await ask(id, louder, fill)).lines).toEqual([done]);
  });

  it('is refused as a run of it would be', async () => {
    const { id } = (await add(weekly())).body;
    const empty = await ask(id, weekly(), { body: idOf('one.wav') });
    expect(empty).toMatchObject({ status: 422, lines: [{ code: 'empty-place' }] });
    const broken = await ask(id, weekly(), { body: idOf('one.wav'), spot: idOf('junk.wav') });
    expect(broken).toMatchObject({ status: 409, lines: [{ detail: expect.stringContaining('junk.wav') }] });
    const early = PARTS().map((part) =>
      part.id === 'body' ? { ...part, begins: { after: null, gapSeconds: -1 } } : part,
    );
    const { lines } = await ask(id, weekly(early), { body: idOf('one.wav'), spot: idOf('spot.wav') });
    expect(lines.at(-1)).toMatchObject({ type: 'failed', message: expect.stringContaining('Talk') });
  });
});

it('goes to the trash and comes back; it stays while a run tells by it what was done', async () => {
  const orders = async () => (await get<OrderSummary[]>(`/titles/${title.id}/orders`)).map(({ id }) => id);
  const { id } = (await add(weekly(PARTS().slice(0, 1), { name: 'Sting' }))).body;
  const before = await orders();
  expect((await server.call('DELETE', `/orders/${id}`)).status).toBe(204);
  expect(await orders()).toEqual(before.filter((one) => one !== id));
  expect((await server.call('GET', `/orders/${id}`)).status).toBe(404);
  await post('/trash/restore', { kind: 'order', id });
  expect(await orders()).toEqual(before);
  // without places it is called as itself
  const run = await finished((await start(id, [{}])).body.id);
  expect(run.items[0].output!.name).toBe('Sting.mp3');
  await server.call('DELETE', `/orders/${id}`);
  const emptied = await post<{ kept: { id: string; why: string }[] }>('/trash/empty', { kind: 'order', id });
  expect(emptied.kept).toEqual([expect.objectContaining({ id, why: 'a run tells by it what was done' })]);
});

it('a programme whose music was removed for good stays, is never cleared, and says that it can\u2019t be made again', async () => {
  const form = new FormData();
  form.append('files', await wavFile('jingle.wav', sine(500, 0.1, 1.5, RATE), RATE));
  const [{ id: jingle }] = await post<Recording[]>(`/titles/${title.id}/recordings`, form);
  await server.until<Recording>(`/recordings/${jingle}`, ({ status }) => status === 'ready');
  const { id } = (await add(weekly([{ ...PARTS()[0], source: { recording: jingle } }, PARTS()[1]]))).body;
  const run = await finished((await start(id, [{ body: idOf('two.wav') }])).body.id);
  const [{ id: itemId, output }] = run.items;
  const recipe = () => get<RecipeFile>(`/runs/${run.id}/items/${itemId}/recipe`);
  expect((await recipe()).sourceRemoved).toBeUndefined();
  await server.call('DELETE', `/recordings/${jingle}`);
  await post('/trash/empty', { kind: 'recording', id: jingle });
  expect((await recipe()).sourceRemoved).toBe(true);
  await post('/storage/clear-renders', { titleId: title.id });
  const [item] = (await get<Run>(`/runs/${run.id}`)).items;
  expect(item).toMatchObject({ cleared: false, output });
  expect((await fetch(`${server.origin}/api/runs/${run.id}/items/${itemId}/output`)).status).toBe(200);
  // tried again, it says what it lacks
  await post(`/runs/${run.id}/retry`, { itemIds: [itemId] });
  expect((await finished(run.id)).items[0]).toMatchObject({ status: 'failed', error: { code: 'removed' } });
});

it('a place may be filled by what was delivered of a recording: cuts are in it, and marks lie where their moments went', async () => {
  const form = new FormData();
  const voice = mixed(babble(5, RATE, 9), noise(0.0005, 5, RATE, 9)).map((x) => 0.3 * x);
  form.append('files', await wavFile('nine.wav', voice, RATE));
  const [{ id }] = await post<Recording[]>(`/titles/${title.id}/recordings`, form);
  await server.until<Recording>(`/recordings/${id}`, ({ status }) => status === 'ready');
  await server.call('PUT', `/recordings/${id}/marks/b`, { name: 'break', startSeconds: 3.5, endSeconds: 3.5 });
  const cut = { kind: 'take-out', on: true, startSeconds: 1, endSeconds: 2 };
  expect((await server.call('PUT', `/recordings/${id}/cuts/c`, cut)).status).toBe(200);
  const chain = await post<{ id: string }>('/chains', { name: 'Plain', steps: [] });
  const plain = { titleId: title.id, recordingIds: [id], chainId: chain.id, targetId: target.id };
  const [item] = (await finished((await post<Run>('/runs', plain)).id)).items;
  expect(item.status).toBe('within');
  const order = (await add(weekly())).body;
  const lines: ForecastLine[] = [];
  const asked = {
    titleId: title.id,
    orderId: order.id,
    targetId: target.id,
    fills: [{ body: item.id, spot: idOf('spot.wav') }],
  };
  const response = await fetch(`${server.origin}/api/forecasts`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(asked),
  });
  for (const line of (await response.text()).trim().split('\n')) lines.push(JSON.parse(line));
  expect(JSON.stringify(lines)).not.toContain('is not there');
  const started = await start(order.id, asked.fills);
  expect(started.status).toBe(201);
  const run = await finished(started.body.id);
  const [programme] = run.items;
  expect([programme.status, programme.recordingId]).toEqual(['within', id]);
  // the second that was cut is gone, about 20 ms of joins apart; the spot opens the body where the mark lies by now
  const [, body, spot] = programme.parts!;
  expect(body.startSeconds).toBe(1.5);
  expect(spot.startSeconds).toBeCloseTo(1.5 + 2.5, 1);
  const recipe = await get<RecipeFile>(`/runs/${run.id}/items/${programme.id}/recipe`);
  expect(recipe.order!.parts.body.sha256).toBe(item.output!.sha256);
  expect(recipe.order!.parts.body.marked.cuts ?? []).toEqual([]);
  // a delivery that is there is nothing that was removed
  expect(recipe.sourceRemoved).toBeUndefined();
  // the title tells of the recording, and nothing about it is out of date by that
  const standings = await get<{ recordingId: string; state: string }[]>(`/titles/${title.id}/standing`);
  expect(standings.find(({ recordingId }) => recordingId === id)?.state).toBe('within');
  // what is in no delivery is in no programme
  const junk = await start(order.id, [{ body: 'no-such-item', spot: idOf('spot.wav') }]);
  expect(junk.status).toBe(404);
});
