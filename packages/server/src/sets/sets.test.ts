import type {
  Chain,
  Problem,
  RecipeFile,
  Recording,
  RecordingSet,
  Run,
  Standing,
  Target,
  Title,
} from '@tonos/contract';
import { babble, mixed, noise } from '@tonos/core/testing';
import { TestServer, wavFile } from '../testing/test-server.ts';

const RATE = 16_000;
let server: TestServer;
let title: Title;
let host: Recording;
let guest: Recording;
let stranger: Recording;

const post = async <T>(path: string, body: unknown) => (await server.call<T>('POST', path, body)).body;
const sets = async () => (await server.call<RecordingSet[]>('GET', `/titles/${title.id}/sets`)).body;
const link = (recordingIds: string[], more = {}) =>
  server.call<RecordingSet & Problem>('POST', `/titles/${title.id}/sets`, { recordingIds, ...more });

beforeAll(async () => {
  server = await TestServer.start();
  title = await post<Title>('/titles', { name: 'Two at a Table', kind: 'podcast' });
  const session = mixed(babble(24, RATE, 5), noise(0.0005, 24, RATE)).map((x) => 0.3 * x);
  const other = session.slice(1.5 * RATE, 22 * RATE);
  const form = new FormData();
  form.append('files', await wavFile('host.wav', session, RATE));
  form.append('files', await wavFile('guest.wav', mixed(other, noise(0.0003, 20.5, RATE, 2)), RATE));
  form.append('files', await wavFile('stranger.wav', noise(0.1, 20, RATE, 8), RATE));
  const added = await post<Recording[]>(`/titles/${title.id}/recordings`, form);
  [host, guest, stranger] = await Promise.all(
    added.map(({ id }) => server.until<Recording>(`/recordings/${id}`, ({ status }) => status === 'ready')),
  );
});
afterAll(() => server.remove());

it('links what belongs together, and says what does not', async () => {
  const refused = await link([host.id, stranger.id]);
  expect(refused).toMatchObject({ status: 422, body: { code: 'not-together' } });
  expect(refused.body.detail).toMatch(/stranger\.wav.*confidence 0\.0/);
  expect(await sets()).toEqual([]);
  const made = await link([host.id, guest.id]);
  expect(made.status).toBe(201);
  expect(made.body.members[0]).toEqual({ recordingId: host.id, offsetSeconds: 0, driftPpm: 0, confidence: 1 });
  expect(Math.abs(made.body.members[1].offsetSeconds - 1.5)).toBeLessThan(0.001);
  expect(await sets()).toEqual([made.body]);
  expect((await link([guest.id, host.id])).status).toBe(409);
  expect((await link([host.id, 'nobody'])).status).toBe(404);
});

it('is corrected by hand, and unlinked; linked anyway where somebody insists', async () => {
  const [{ id, members }] = await sets();
  const moved = members.map(({ confidence: _, ...member }) => ({
    ...member,
    offsetSeconds: member.offsetSeconds && 1.25,
  }));
  const { body } = await server.call<RecordingSet>('PATCH', `/sets/${id}`, { members: moved });
  expect(body.members[1]).toMatchObject({ offsetSeconds: 1.25, confidence: 1 });
  expect(
    (await server.call('PATCH', `/sets/${id}`, { members: [members[0], { ...members[1], recordingId: 'x' }] })).status,
  ).toBe(404);
  expect((await server.call('DELETE', `/sets/${id}`)).status).toBe(204);
  expect((await server.call('DELETE', `/sets/${id}`)).status).toBe(404);
  const anyway = await link([host.id, stranger.id], { anyway: true });
  expect(anyway.body.members[1]).toMatchObject({ offsetSeconds: 0, driftPpm: 0 });
  await server.call('DELETE', `/sets/${anyway.body.id}`);
  expect(await sets()).toEqual([]);
});

it('is run together whoever of it is chosen: one time for all, and one length; tried again together too', async () => {
  await link([host.id, guest.id]);
  const cut = { kind: 'take-out', startSeconds: 9.1, endSeconds: 9.9 };
  await server.call('PUT', `/recordings/${guest.id}/cuts/c`, cut);
  const chain = await post<Chain>('/chains', {
    name: 'Tight',
    steps: [{ id: 'p', kind: 'shorten-pauses', settings: { longestSeconds: 0.4 } }],
  });
  const target = await post<Target>('/targets', {
    name: 'House',
    limits: [{ measure: 'truePeakDbtp', max: 0 }],
    output: { container: 'wav', bitDepth: 16 },
  });
  const { id } = await post<Run>('/runs', {
    titleId: title.id,
    recordingIds: [guest.id],
    chainId: chain.id,
    targetId: target.id,
  });
  const finished = () => server.until<Run>(`/runs/${id}`, ({ status }) => status === 'finished');
  const first = await finished();
  expect(first.items.map(({ recordingId, status }) => [recordingId, status])).toEqual([
    [host.id, 'within'],
    [guest.id, 'within'],
  ]);
  const [a, b] = first.items.map(({ after }) => after!.durationSeconds);
  expect(a).toBe(b);
  expect(a).toBeLessThan(22);
  // the same moment of the session lies at the same moment of both
  const at = (item: Run['items'][number], seconds: number) => {
    const map = item.timeMap!;
    const next = map.findIndex(([source]) => source > seconds);
    const [[s0, r0], [s1, r1]] = [map[next - 1], map[next]];
    return r0 + ((seconds - s0) / (s1 - s0)) * (r1 - r0);
  };
  expect(at(first.items[0], 18.5)).toBeCloseTo(at(first.items[1], 17), 2);
  const hashes = first.items.map(({ output }) => output!.sha256);
  const recipe = await server.call<RecipeFile>('GET', `/runs/${id}/items/${first.items[0].id}/recipe`);
  expect(recipe.body.set?.others).toMatchObject([{ sha256: guest.sha256, cuts: [{ kind: 'take-out' }] }]);
  // cleared and made again from their recipes: the same bytes
  await server.call('POST', `/runs/${id}/retry`, { itemIds: [first.items[1].id] });
  const again = await finished();
  expect(again.items.map(({ output }) => output!.sha256)).toEqual(hashes);
  // a cut of one makes both out of date
  const standing = async () => (await server.call<Standing[]>('GET', `/titles/${title.id}/standing`)).body;
  expect((await standing()).slice(0, 2).map(({ state }) => state)).toEqual(['within', 'within']);
  await server.call('PUT', `/recordings/${guest.id}/cuts/c`, { ...cut, endSeconds: 9.8 });
  expect((await standing()).slice(0, 2)).toMatchObject([
    { recordingId: host.id, outdatedBy: ['marks'] },
    { recordingId: guest.id, outdatedBy: ['marks'] },
  ]);
});

it('fills a place of a running order as one sound, told by its first; it is part of the recipe, and goes by its newest takes', async () => {
  const [set] = await sets();
  const target = (await server.call<Target[]>('GET', '/targets')).body.find(({ name }) => name === 'Podcast, mono')!;
  const order = await post<{ id: string }>(`/titles/${title.id}/orders`, {
    format: 'tonos.order/1',
    name: 'Round table',
    channels: 1,
    groups: [{ id: 'voices' }],
    parts: [{ id: 'body', group: 'voices', source: { place: 'body' } }],
  });
  const asked = { titleId: title.id, orderId: order.id, targetId: target.id, fills: [{ body: set.id }] };
  const response = await fetch(`${server.origin}/api/forecasts`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(asked),
  });
  const lines = (await response.text())
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line));
  // 24 s, of which 0.7 s are cut in the guest's
  expect(lines[1]).toMatchObject({ recordingId: host.id, lacks: [], lengthSeconds: expect.closeTo(23.3, 1) });
  const { id } = await post<Run>('/runs', asked);
  const run = await server.until<Run>(`/runs/${id}`, ({ status }) => status === 'finished', 120);
  const [item] = run.items;
  expect(item).toMatchObject({ status: 'within', recordingId: host.id });
  expect(Math.abs(item.after!.durationSeconds - 23.3)).toBeLessThan(0.1);
  const { body: recipe } = await server.call<RecipeFile>('GET', `/runs/${id}/items/${item.id}/recipe`);
  const { sha256, linked } = recipe.order!.parts.body;
  expect(sha256).toBe(host.sha256);
  expect(linked!.others).toEqual([
    expect.objectContaining({ sha256: guest.sha256, place: expect.objectContaining({ driftPpm: expect.any(Number) }) }),
  ]);
  expect(recipe.sourceRemoved).toBeUndefined();
  // another cut of one of them makes the programme out of date
  const standing = async () => (await server.call<Standing[]>('GET', `/titles/${title.id}/standing`)).body[0];
  expect(await standing()).toMatchObject({ state: 'within', outdatedBy: [] });
  await server.call('DELETE', `/recordings/${guest.id}/cuts/c`);
  expect(await standing()).toMatchObject({ state: 'out-of-date', outdatedBy: ['marks'] });
  // unlinked, it can't be put together any more
  await server.call('DELETE', `/sets/${set.id}`);
  expect((await server.call('POST', '/runs', asked)).status).toBe(404);
});
