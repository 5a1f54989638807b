import type {
  AccountEntry,
  Chain,
  Note,
  OpenForMe,
  Presence,
  Recording,
  Run,
  RunningOrder,
  Target,
  Title,
  Today,
} from '@tonos/contract';
import { TestPerson } from '../testing/person.ts';
import { TestServer, voiceFile } from '../testing/test-server.ts';

let server: TestServer;
let owner: TestPerson;
let lead: TestPerson;
let tamsin: TestPerson;
let joost: TestPerson;
beforeAll(async () => {
  server = await TestServer.startShared({ quotaBytes: 600_000 });
  owner = await TestPerson.owner(server);
  lead = await owner.invites('Mira Osten', 'lead');
  tamsin = await owner.invites('Tamsin Adler', 'engineer');
  joost = await owner.invites('Joost Ferrand', 'engineer');
});
afterAll(() => server.remove());

const gain = (gainDb: number) => ({ kind: 'gain', settings: { gainDb } });
const etagOf = async (person: TestPerson, path: string) => (await person.fetch(path)).headers.get('etag');

describe.each(['chain', 'order'] as const)('a %s under work', (thing) => {
  let path: string;
  const order = (name: string) => ({
    ...{ format: 'tonos.order/1', name, channels: 2, groups: [], parts: [], under: [], chain: null },
  });
  const content = (n: number) => (thing === 'chain' ? { steps: [gain(n)] } : { order: order(`Weekly ${n}`) });
  beforeAll(async () => {
    if (thing === 'chain')
      path = `/chains/${(await owner.call('POST', '/chains', { name: 'Voice', steps: [] })).body.id}`;
    else {
      const title = (await owner.call<Title>('POST', '/titles', { name: 'Tide', kind: 'podcast' })).body;
      path = `/orders/${(await owner.call('POST', `/titles/${title.id}/orders`, order('Weekly'))).body.id}`;
    }
  });
  const get = async (person: TestPerson) => (await person.call<Chain & RunningOrder>('GET', path)).body;

  it('has a draft for each person: others see that there is one, and their ETag stays', async () => {
    const before = await etagOf(joost, path);
    expect((await tamsin.call('PUT', `${path}/draft`, { ...content(1), basedOn: 1 })).status).toBe(200);
    expect(await etagOf(joost, path)).toBe(before);
    const seen = await get(joost);
    expect(seen.draft).toBeNull();
    expect(seen.drafts).toMatchObject([{ person: { id: tamsin.id, name: 'Tamsin Adler' } }]);
    expect((await get(tamsin)).draft).toMatchObject({ author: 'Tamsin Adler', basedOn: 1 });
    // both save, neither overwrites the other
    const mine = await joost.call('PUT', `${path}/draft`, { ...content(2), basedOn: 1 }, { 'if-match': before! });
    expect(mine.status).toBe(200);
    expect((await get(tamsin)).draft).toMatchObject(content(1));
    expect((await get(joost)).draft).toMatchObject(content(2));
  });

  it('in two browsers of one person it is one draft still: the older one is told', async () => {
    const tag = (await etagOf(tamsin, path))!;
    expect((await tamsin.call('PUT', `${path}/draft`, { ...content(3), basedOn: 1 }, { 'if-match': tag })).status).toBe(
      200,
    );
    const second = await tamsin.call('PUT', `${path}/draft`, { ...content(4), basedOn: 1 }, { 'if-match': tag });
    expect(second).toMatchObject({ status: 412, body: { draft: content(3) } });
  });

  it('keeps one\u2019s own, and tells the other that theirs started from an older revision', async () => {
    const kept = await tamsin.call('POST', `${path}/revisions`, { ...content(3), note: 'Warmer', basedOn: 1 });
    expect(kept.status).toBe(201);
    const seen = await get(joost);
    expect(seen.revisions[0]).toMatchObject({ revision: 2, author: 'Tamsin Adler', note: 'Warmer' });
    expect(seen.draft).toMatchObject(content(2));
    expect(seen.drafts).toEqual([]);
    const late = await joost.call('POST', `${path}/revisions`, { ...content(2), basedOn: 1 });
    expect(late).toMatchObject({ status: 409, body: { code: 'stale-revision', revision: 2 } });
    expect((await joost.call('DELETE', `${path}/draft`)).status).toBe(204);
    expect((await get(joost)).draft).toBeNull();
  });

  it('a lead stands for a revision: then only leads follow it, or throw it away', async () => {
    const approval = `${path}/revisions/2/approval`;
    expect((await tamsin.call('POST', approval, { sentence: 'Fine.' })).status).toBe(403);
    expect((await lead.call('POST', approval, { sentence: ' ' })).status).toBe(422);
    const approved = await lead.call<Chain>('POST', approval, { sentence: 'Heard on four voices.' });
    expect(approved.body.revisions[0].approval).toMatchObject({ sentence: 'Heard on four voices.', by: 'Mira Osten' });
    const next = { ...content(5), basedOn: 2 };
    expect((await tamsin.call('POST', `${path}/revisions`, next)).status).toBe(403);
    expect((await tamsin.call('PUT', `${path}/draft`, next)).status).toBe(200);
    expect((await tamsin.call('DELETE', path)).status).toBe(403);
    expect((await lead.call('POST', `${path}/revisions`, next)).status).toBe(201);
    expect((await tamsin.call('POST', `${path}/revisions`, { ...content(6), basedOn: 3 })).status).toBe(201);
    expect((await lead.call('DELETE', approval)).status).toBe(204);
    expect((await lead.call('POST', `${path}/revisions/9/approval`, { sentence: 'x' })).status).toBe(404);
  });
});

it('a target is changed by who made it, and by leads', async () => {
  const file = { format: 'tonos.target/1', name: 'House', limits: {}, output: { container: 'wav', bitDepth: 24 } };
  const shipped = (await owner.call<Target[]>('GET', '/targets')).body[0];
  const { id: _, shipped: __, version: ___, superseded: ____, personId: _____, approval: ______, ...copy } = shipped;
  const made = await tamsin.call<Target>('POST', '/targets', { ...copy, name: file.name });
  expect(made.body).toMatchObject({ personId: tamsin.id, approval: null });
  const put = (person: TestPerson, id: string) =>
    person.call<Target>('PUT', `/targets/${id}`, { ...copy, name: 'House 2' });
  expect((await put(joost, made.body.id)).status).toBe(403);
  expect((await joost.call('DELETE', `/targets/${made.body.id}`)).status).toBe(403);
  const second = await put(tamsin, made.body.id);
  expect(second.body.version).toBe(2);
  expect((await lead.call('POST', `/targets/${second.body.id}/approval`, { sentence: 'As agreed.' })).status).toBe(201);
  expect((await put(tamsin, second.body.id)).status).toBe(403);
  expect((await put(lead, second.body.id)).status).toBe(200);
});

it('a title that asks for approved revisions: an engineer\u2019s run needs one, a lead\u2019s says that it had none, and so does the report', async () => {
  const title = (await lead.call<Title>('POST', '/titles', { name: 'Night Shift', kind: 'podcast' })).body;
  const form = new FormData();
  form.append('files', await voiceFile('a.wav', 2));
  const [{ id }] = (await tamsin.call<Recording[]>('POST', `/titles/${title.id}/recordings`, form)).body;
  const chain = (await tamsin.call<Chain>('POST', '/chains', { name: 'Own', steps: [gain(1)] })).body;
  const targets = (await owner.call<Target[]>('GET', '/targets')).body;
  const targetId = targets.find(({ name }) => name === 'Podcast, mono')!.id;
  const asked = { titleId: title.id, recordingIds: [id], chainId: chain.id, targetId };
  for (const change of [{ approvedOnly: true }, { closed: true }])
    expect((await tamsin.call('PATCH', `/titles/${title.id}`, change)).status).toBe(403);
  await lead.call('PATCH', `/titles/${title.id}`, { approvedOnly: true });
  const refused = await tamsin.call('POST', '/runs', asked);
  expect(refused).toMatchObject({ status: 403, body: { code: 'role-too-low' } });
  expect(refused.body.detail).toContain('revision 1 of “Own” is not approved');
  const run = (await lead.call<Run>('POST', '/runs', asked)).body;
  expect(run).toMatchObject({ by: 'Mira Osten', unapproved: ['revision 1 of “Own” is not approved'] });
  const report = await lead.call('GET', `/runs/${run.id}/report/json`);
  expect(report.body.unapproved).toEqual(run.unapproved);
  await lead.call('POST', `/chains/${chain.id}/revisions/1/approval`, { sentence: 'Good.' });
  expect((await tamsin.call<Run>('POST', '/runs', asked)).body).toMatchObject({ by: 'Tamsin Adler', unapproved: [] });
});

it('a listener writes and settles notes, and marks nothing else', async () => {
  const ear = await owner.invites('Lev Ostrander', 'listener');
  const title = (await owner.call<Title>('POST', '/titles', { name: 'Ears', kind: 'podcast' })).body;
  const form = new FormData();
  form.append('files', await voiceFile('n.wav', 2));
  const [{ id }] = (await owner.call<Recording[]>('POST', `/titles/${title.id}/recordings`, form)).body;
  const put = (person: TestPerson, markId: string, mark: object) =>
    person.call<Recording>('PUT', `/recordings/${id}/marks/${markId}`, {
      name: '',
      startSeconds: 1,
      endSeconds: 1,
      ...mark,
    });
  const note = { text: 'A chair creaks.' };
  const written = await put(ear, 'n', { note });
  expect(written.body.marks[0].note).toMatchObject({ ...note, by: 'Lev Ostrander', state: 'open' });
  expect((await put(ear, 'm', { name: 'Chapter', chapter: true, note })).status).toBe(403);
  expect((await put(ear, 'm', {})).status).toBe(403);
  await put(owner, 'c', { name: 'Chapter', chapter: true });
  expect((await put(ear, 'c', { name: 'Chapter', chapter: true, note })).status).toBe(200);
  expect((await put(ear, 'c', { name: 'Another', chapter: true, note })).status).toBe(403);
  expect((await ear.call('DELETE', `/recordings/${id}/marks/c`)).status).toBe(403);
  expect((await ear.call('DELETE', `/recordings/${id}/marks/n`)).status).toBe(204);
  // who cuts what a colleague marked is told of in the account of the title, and the same nudge only once
  const told = (await ear.call<AccountEntry[]>('GET', `/account?titleId=${title.id}`)).body;
  const sentences = told.map(({ person, sentence }) => `${person.name} ${sentence}`);
  expect(sentences).toContain('Lev Ostrander wrote a note on “n.wav”');
  expect(new Set(sentences).size).toBe(sentences.length);
});

it('says who is where, to those who may know of it', async () => {
  const title = (await owner.call<Title>('POST', '/titles', { name: 'Shut', kind: 'podcast' })).body;
  await owner.call('PATCH', `/titles/${title.id}`, { closed: true });
  await owner.call('PUT', '/session/presence', { titleId: title.id, chainId: null });
  const seenBy = async (person: TestPerson) => (await person.call<Presence[]>('GET', '/session/presence')).body;
  expect(await seenBy(tamsin)).toEqual([]);
  await owner.call('PATCH', `/people/${tamsin.id}`, { titles: [title.id] });
  expect(await seenBy(tamsin)).toMatchObject([{ person: { name: 'Odile Brandt' }, titleId: title.id }]);
  await owner.call('PUT', '/session/presence', { titleId: null, chainId: null });
  expect((await seenBy(tamsin))[0].titleId).toBeNull();
  expect((await tamsin.call('PUT', '/session/presence', { titleId: 'x', chainId: null })).status).toBe(200);
});

it('each person may send so much and no more', async () => {
  const title = (await owner.call<Title>('POST', '/titles', { name: 'Full', kind: 'podcast' })).body;
  const send = async (seconds: number) => {
    const form = new FormData();
    form.append('files', await voiceFile('q.wav', seconds));
    return (await joost.call('POST', `/titles/${title.id}/recordings`, form)).status;
  };
  expect(await send(10)).toBe(201);
  expect(await send(5)).toBe(413);
  expect(await send(2)).toBe(201);
});

it('asks for no more than ten costly things a second', async () => {
  const recording = 'nothing';
  const statuses = await Promise.all(
    Array.from({ length: 130 }, () => lead.fetch(`/recordings/${recording}/spectrogram`).then(({ status }) => status)),
  );
  expect(statuses.filter((status) => status === 429).length).toBeGreaterThanOrEqual(25);
  expect((await joost.fetch(`/recordings/${recording}/spectrogram`)).status).not.toBe(429);
});

it('a note that names somebody waits for them, on things and at places, until it is seen to', async () => {
  const chain = (await tamsin.call<Chain>('POST', '/chains', { name: 'Noted', steps: [gain(1)] })).body;
  const about = { kind: 'chain', id: chain.id, stepId: chain.steps[0].id };
  const text = 'Too much for the booth? @joost ferrand and @Mira Ostenfeld, have a look. <b>@Nobody</b>';
  const written = await tamsin.call<Note>('POST', '/notes', { about, text });
  expect(written.body).toMatchObject({
    by: { name: 'Tamsin Adler' },
    mentions: [{ name: 'Joost Ferrand' }],
    done: null,
  });
  const waiting = async (person: TestPerson) => (await person.call<OpenForMe[]>('GET', '/notes/for-me')).body;
  expect(await waiting(joost)).toMatchObject([{ kind: 'chain', aboutName: 'Noted', byName: 'Tamsin Adler', text }]);
  expect(await waiting(lead)).toEqual([]);
  expect((await joost.call('PATCH', `/notes/${written.body.id}`, { text: 'x' })).status).toBe(403);
  expect((await joost.call('DELETE', `/notes/${written.body.id}`)).status).toBe(403);
  await joost.call('PATCH', `/notes/${written.body.id}`, { done: true });
  expect(await waiting(joost)).toEqual([]);
  expect((await tamsin.call<Note[]>('GET', `/notes?kind=chain&id=${chain.id}`)).body).toMatchObject([
    { done: { by: { name: 'Joost Ferrand' } } },
  ]);
  for (const wrong of [
    { about, text: ' ' },
    { about, text: 'x'.repeat(10_001) },
    { about: { kind: 'run', id: 'x' }, text },
  ])
    expect((await tamsin.call('POST', '/notes', wrong)).status).toBe(422);
  expect((await tamsin.call('POST', '/notes', { about: { kind: 'item', id: 'x' }, text })).status).toBe(404);

  // at a place in a recording; and not of a title that they may not know of
  const title = (await owner.call<Title>('POST', '/titles', { name: 'Places', kind: 'podcast' })).body;
  const form = new FormData();
  form.append('files', await voiceFile('p.wav', 1));
  const [{ id }] = (await owner.call<Recording[]>('POST', `/titles/${title.id}/recordings`, form)).body;
  const place = { name: '', startSeconds: 0.5, endSeconds: 0.5, note: { text: '@Joost Ferrand: again?' } };
  await owner.call('PUT', `/recordings/${id}/marks/n`, place);
  expect(await waiting(joost)).toMatchObject([
    { kind: 'place', id: 'n', aboutId: id, atSeconds: 0.5, titleName: 'Places' },
  ]);
  await owner.call('PATCH', `/titles/${title.id}`, { closed: true });
  expect(await waiting(joost)).toEqual([]);
});

it('what a watched folder brings in is not run by what nobody stands for, and the page of today says why', async () => {
  const { mkdir, writeFile } = await import('node:fs/promises');
  const folder = `${server.dataFolder}/inbox/Nightly`;
  await mkdir(folder, { recursive: true });
  const title = (await lead.call<Title>('POST', '/titles', { name: 'Nightly', kind: 'podcast' })).body;
  const chain = (await tamsin.call<Chain>('POST', '/chains', { name: 'Nightly', steps: [gain(1)] })).body;
  const targetId = (await owner.call<Target[]>('GET', '/targets')).body.find(
    ({ name }) => name === 'Podcast, mono',
  )!.id;
  const inbox = { root: 0, path: 'Nightly', run: true };
  await lead.call('PATCH', `/titles/${title.id}`, { chainId: chain.id, targetId, inbox, approvedOnly: true });
  await writeFile(`${folder}/a.wav`, Buffer.from(await (await voiceFile('a.wav', 2)).arrayBuffer()));
  const runs = async () => (await owner.call<Run[]>('GET', '/runs')).body.filter(({ titleId }) => titleId === title.id);
  const said = async () =>
    (await owner.call<Today>('GET', '/today')).body.arrivals.map(({ sentence }) => sentence).join();
  for (let k = 0; k < 100 && !(await said()).includes('not approved'); k++)
    await new Promise((r) => setTimeout(r, 100));
  expect(await said()).toContain('revision 1 of “Nightly” is not approved');
  expect(await runs()).toEqual([]);
}, 30_000);
