import { ROLES, ROUTES, type Role, type Route, reaches, type Title } from '@tonos/contract';
import { type RouteName, SENTENCES, SILENT } from '../account/sentences.ts';
import { TestPerson } from '../testing/person.ts';
import { TestServer, voiceFile } from '../testing/test-server.ts';

/** Every call, every role, and what belongs to a title that they may not know of: made from the contract, none left out. */

let server: TestServer;
let owner: TestPerson;
const people: Partial<Record<Role, TestPerson>> = {};
/** Of a closed title, that only the owner knows of. */
const hidden: Record<string, string> = {};

beforeAll(async () => {
  server = await TestServer.startShared();
  owner = await TestPerson.owner(server);
  people.owner = owner;
  for (const role of ['lead', 'engineer', 'listener'] as const)
    people[role] = await owner.invites(`A ${role} of the house`, role);
  const title = (await owner.call<Title>('POST', '/titles', { name: 'Closed', kind: 'podcast' })).body;
  const form = new FormData();
  form.append('files', await voiceFile('a.wav', 1));
  const [recording] = (await owner.call<{ id: string }[]>('POST', `/titles/${title.id}/recordings`, form)).body;
  const order = await owner.call('POST', `/titles/${title.id}/orders`, {
    format: 'tonos.order/1',
    name: 'Weekly',
    channels: 2,
    groups: [],
    parts: [],
    under: [],
    chain: null,
  });
  const chain = await owner.call('POST', '/chains', { name: 'Voice', steps: [] });
  const targets = (await owner.call<{ id: string; name: string }[]>('GET', '/targets')).body;
  await owner.call('PATCH', `/titles/${title.id}`, { closed: true });
  const run = await owner.call<{ id: string; items: { id: string }[] }>('POST', '/runs', {
    titleId: title.id,
    recordingIds: [recording.id],
    chainId: chain.body.id,
    targetId: targets[0].id,
  });
  Object.assign(hidden, {
    titles: title.id,
    recordings: recording.id,
    orders: order.body.id as string,
    runs: run.body.id,
    items: run.body.items[0].id,
  });
});
afterAll(() => server.remove());

const routes = Object.entries(ROUTES) as [RouteName, Route][];
const closed = routes.filter(([, { access }]) => access.least !== 'anybody');
/** Nothing that there is: who is let through learns that it is not there, or that the body is wrong. */
const addressOf = (path: string) => path.replace('/api', '').replace(/:\w+/g, 'nothing');
/** Calls that would end what the others need, or the person who asks. */
const ENDS: RouteName[] = ['signOut'];
const headers = { 'tus-resumable': '1.0.0', 'content-type': 'application/offset+octet-stream', 'upload-offset': '0' };

it.each(closed)('%s needs a session', async (_, { method, path }) => {
  const response = await fetch(`${server.origin}/api${addressOf(path)}`, {
    method: method.toUpperCase(),
    headers: { origin: server.origin, ...headers },
  });
  const problem = (await response.json()) as { code: string };
  expect([response.status, problem.code]).toEqual([401, path.startsWith('/api/work/') ? 'no-worker' : 'signed-out']);
  expect(response.headers.get('content-type')).toContain('application/problem+json');
});

const cases = closed
  .filter(([name]) => !ENDS.includes(name))
  .flatMap(([name, route]) => ROLES.map((role) => [name, role, route] as const));

it.each(cases)('%s as %s', async (name, role, { method, path, access }) => {
  const response = await people[role]!.fetch(addressOf(path), { method: method.toUpperCase(), headers });
  if (name === 'events') await response.body?.cancel();
  else await response.text();
  // a machine is no person, whatever the person may
  if (access.least === 'worker') return expect(response.status).toBe(401);
  const may = reaches(role, access.least as Role);
  if (may) expect([401, 403, 500]).not.toContain(response.status);
  else expect(response.status).toBe(403);
});

const foreign = closed.filter(
  ([, { path }]) => /:(id|itemId)/.test(path) && /titles|recordings|orders|runs/.test(path),
);
const inside = foreign.flatMap(([name, route]) =>
  ROLES.filter((role) => role !== 'owner' && reaches(role, route.access.least as Role)).map(
    (role) => [name, role, route] as const,
  ),
);

it('there are calls of every kind of thing in a title', () => {
  for (const kind of ['titles', 'recordings', 'orders', 'runs'])
    expect(foreign.filter(([, { path }]) => path.startsWith(`/api/${kind}/`)).length).toBeGreaterThan(2);
});

it.each(inside)('%s of a closed title is not there for a %s', async (_, role, { method, path }) => {
  const kind = path.split('/')[2];
  const own = addressOf(path.replace(':id', hidden[kind]).replace(':itemId', hidden.items));
  const answer = await people[role]!.call(method.toUpperCase(), own, undefined, headers);
  expect([answer.status, answer.body.code]).toEqual([404, 'not-found']);
});

it('what belongs to a closed title is not there in any body either', async () => {
  const { titles: titleId, recordings: id, orders: orderId } = hidden;
  const targets = (await people.lead!.call<{ id: string }[]>('GET', '/targets')).body;
  const chain = (await people.lead!.call<{ id: string }[]>('GET', '/chains')).body[0];
  const own = (await people.lead!.call<Title>('POST', '/titles', { name: 'Open', kind: 'podcast' })).body;
  const at = { chainId: chain.id, targetId: targets[0].id };
  const order = { format: 'tonos.order/1', name: 'B', channels: 2, under: [], chain: null };
  const groups = [{ id: 'g', name: 'G', chain: null, gainDb: 0 }];
  const part = { id: 'p', group: 'g', source: { recording: id }, begins: { after: null, gapSeconds: 0 } };
  const bodies: [string, string, object][] = [
    ['POST', '/runs', { titleId, recordingIds: [id], ...at }],
    ['POST', '/runs', { titleId: own.id, recordingIds: [id], ...at }],
    ['POST', '/runs', { titleId: own.id, orderId, targetId: targets[0].id, fills: [{}] }],
    ['POST', '/forecasts', { titleId, recordingIds: [id], ...at }],
    ['PATCH', '/recordings', { ids: [id], speaker: 'X' }],
    ['POST', '/trash/restore', { kind: 'recording', id }],
    ['POST', `/titles/${own.id}/sets`, { recordingIds: [id, 'another'] }],
    ['POST', `/titles/${own.id}/orders`, { ...order, groups, parts: [part] }],
  ];
  for (const [method, path, body] of bodies) {
    const answer = await people.lead!.call(method, path, body);
    expect([path, answer.status, answer.body.code]).toEqual([path, 404, 'not-found']);
  }
  const metadata = Object.entries({ titleId, filename: 'a.wav' })
    .map(([key, value]) => `${key} ${Buffer.from(value).toString('base64')}`)
    .join(',');
  const upload = await people.engineer!.fetch('/uploads', {
    method: 'POST',
    headers: { ...headers, 'upload-length': '9', 'upload-metadata': metadata },
  });
  expect([upload.status, ((await upload.json()) as { code: string }).code]).toEqual([404, 'not-found']);
});

it('lists, counts, the account and the page of today leave a closed title out, and hold it for who knows of it', async () => {
  const knowing = await owner.invites('Knows of it', 'listener', [hidden.titles]);
  for (const path of ['/titles', '/standing', '/runs', '/today', '/trash', '/chains', '/shelf', '/account']) {
    const texts = await Promise.all(
      [owner, knowing, people.lead!].map((one) => one.fetch(path).then((got) => got.text())),
    );
    const tells = texts.map((text) => text.includes(hidden.titles));
    if (['/trash', '/shelf', '/chains'].includes(path)) expect([path, tells[2]]).toEqual([path, false]);
    else if (path === '/today') expect(tells[2]).toBe(false);
    else expect([path, ...tells]).toEqual([path, true, true, false]);
  }
  expect((await knowing.call('GET', `/titles/${hidden.titles}`)).status).toBe(200);
});

it('of every call that changes something the account says a sentence, or why it says none', () => {
  const changing = routes.filter(([, { method }]) => method !== 'get').map(([name]) => name);
  expect(changing.filter((name) => !SENTENCES[name] && !SILENT[name])).toEqual([]);
  expect(Object.keys({ ...SENTENCES, ...SILENT }).filter((name) => !changing.includes(name as RouteName))).toEqual([]);
  expect(Object.keys(SENTENCES).filter((name) => name in SILENT)).toEqual([]);
});

it('no call changes anything by GET, but the way back from the house\u2019s own sign-in', () => {
  expect(routes.filter(([, { method, body, takes }]) => method === 'get' && (body || takes))).toEqual([]);
});
