import { createHash } from 'node:crypto';
import { appendFile, mkdir, readdir, readFile, rm, symlink, writeFile } from 'node:fs/promises';
import { request } from 'node:http';
import { join } from 'node:path';
import type {
  Chain,
  ChainSummary,
  Folder,
  Problem,
  Recording,
  RecordingView,
  Run,
  Target,
  Title,
} from '@tonos/contract';
import { TestServer, voiceFile } from './testing/test-server.ts';

let server: TestServer;
beforeAll(async () => {
  server = await TestServer.start();
});
afterAll(() => server.remove());

const addTitle = async (name = 'The Lantern Ledger') =>
  (await server.call<Title>('POST', '/titles', { name, kind: 'podcast' })).body;
const addChain = async (steps: unknown[], name = 'Plain') =>
  server.call<Chain & Problem>('POST', '/chains', { name, steps });
const targetCalled = async (name: string) =>
  (await server.call<Target[]>('GET', '/targets')).body.find((target) => target.name === name)!;

async function upload(titleId: string, ...files: File[]) {
  const form = new FormData();
  for (const file of files) form.append('files', file);
  return server.call<Recording[] & Problem>('POST', `/titles/${titleId}/recordings`, form);
}

const measured = (titleId: string) =>
  server.until<Recording[]>(
    `/titles/${titleId}/recordings`,
    (list) => list.length > 0 && list.every(({ status }) => status !== 'measuring'),
  );
const ended = (id: string) =>
  server.until<Run>(`/runs/${id}`, ({ status }) => status === 'finished' || status === 'cancelled', 90);

describe('what comes from outside', () => {
  it('answers its health, and describes every call in OpenAPI 3.1', async () => {
    expect((await server.call('GET', '/health')).body).toEqual({ status: 'ready', version: '0.0.0-test' });
    const { body } = await server.call<{ openapi: string; paths: object }>('GET', '/openapi.json');
    expect(body.openapi).toBe('3.1.0');
    expect(Object.keys(body.paths)).toEqual(
      expect.arrayContaining(['/api/titles/{id}/recordings', '/api/runs/{id}/items/{itemId}/output', '/api/events']),
    );
  });

  it.each([
    ['a page of another origin', { origin: 'https://elsewhere.example' }],
    ['no origin at all', { origin: 'null' }],
  ])('refuses %s', async (_, headers) => {
    expect(await server.call('GET', '/health', undefined, headers)).toMatchObject({
      status: 403,
      type: expect.stringMatching(/problem\+json/),
    });
  });

  it('refuses a foreign host', async () => {
    const { port } = new URL(server.origin);
    const status = await new Promise((resolve) =>
      request({ port, host: '127.0.0.1', path: '/api/health', headers: { host: 'elsewhere.example' } }, (answer) =>
        resolve(answer.resume().statusCode),
      ).end(),
    );
    expect(status).toBe(403);
  });

  it.each<[string, string, string, unknown, number]>([
    ['malformed JSON', 'POST', '/titles', '{"name":', 400],
    ['a title without a name', 'POST', '/titles', { kind: 'podcast' }, 422],
    ['an unknown kind of title', 'POST', '/titles', { name: 'x', kind: 'film' }, 422],
    ['a body that is too large', 'POST', '/titles', { name: 'x'.repeat(3_000_000), kind: 'podcast' }, 413],
    ['an unknown title', 'GET', '/titles/nowhere/recordings', undefined, 404],
    ['an unknown recording', 'GET', '/recordings/nowhere', undefined, 404],
    ['an unknown run', 'POST', '/runs/nowhere/cancel', undefined, 404],
    ['an unknown call', 'GET', '/nothing', undefined, 404],
  ])('answers %s with a problem', async (_, method, path, body, status) => {
    const answer = await server.call<Problem>(method, path, body);
    expect(answer).toMatchObject({
      status,
      type: expect.stringMatching(/application\/problem\+json/),
      body: { status },
    });
    expect(answer.body.detail.length).toBeGreaterThan(10);
  });
});

describe('recordings', () => {
  it('come in several at once, in the order sent, under their own names; what is no sound says so and the rest goes on', async () => {
    const { id } = await addTitle();
    const good = await voiceFile('x');
    const answer = await upload(
      id,
      new File([good], '../über/Kapitel 1.wav'),
      new File([new Uint8Array(2000).fill(7)], 'notes.wav'),
      new File([], 'empty.wav'),
      new File([good], 'Kapitel 2.wav'),
    );
    expect(answer.status).toBe(201);
    expect(answer.body.map(({ name }) => name)).toEqual(['Kapitel 1.wav', 'notes.wav', 'empty.wav', 'Kapitel 2.wav']);
    const list = await measured(id);
    expect(list.map(({ status }) => status)).toEqual(['ready', 'unreadable', 'unreadable', 'ready']);
    expect(list[0].measurement).toMatchObject({ durationSeconds: 4, sampleRateHz: 22050, container: 'wav' });
    expect(list[1].error!.message).toMatch(/notes\.wav .*no sound file/);
    expect(list[2].error!.message).toMatch(/empty\.wav is empty/);
  });

  it('lie unchanged in the data folder under their hash, the same content once', async () => {
    const { id } = await addTitle();
    const file = await voiceFile('once.wav', 3, 11);
    const [first, second] = (await upload(id, file, file)).body;
    const hash = createHash('sha256')
      .update(new Uint8Array(await file.arrayBuffer()))
      .digest('hex');
    expect([first.sha256, second.sha256]).toEqual([hash, hash]);
    expect(await readFile(join(server.dataFolder, 'blobs', hash))).toEqual(Buffer.from(await file.arrayBuffer()));
    await measured(id);
    expect(await readdir(join(server.dataFolder, 'tmp'))).toEqual([]);
  });

  it('can be played from any byte', async () => {
    const { id } = await addTitle();
    const file = await voiceFile('range.wav', 3);
    const [{ id: recordingId }] = (await upload(id, file)).body;
    await measured(id);
    const answer = await fetch(`${server.origin}/api/recordings/${recordingId}/audio`, {
      headers: { range: 'bytes=10-19' },
    });
    expect(answer.status).toBe(206);
    expect(answer.headers.get('content-type')).toBe('audio/wav');
    expect(new Uint8Array(await answer.arrayBuffer())).toEqual(new Uint8Array(await file.arrayBuffer()).slice(10, 20));
  });

  it.each<[string, (form: FormData) => void, number]>([
    ['no file', () => {}, 400],
    ['a part of another name', (form) => form.append('other', new File(['x'], 'x.wav')), 400],
    ['a file over the limit', (form) => form.append('files', new File([new Uint8Array(5_000_000)], 'large.wav')), 413],
  ])('an upload with %s is refused and leaves nothing behind', async (_, fill, status) => {
    const { id } = await addTitle();
    const form = new FormData();
    fill(form);
    expect((await server.call('POST', `/titles/${id}/recordings`, form)).status).toBe(status);
    expect((await server.call<Recording[]>('GET', `/titles/${id}/recordings`)).body).toEqual([]);
    expect(await readdir(join(server.dataFolder, 'tmp'))).toEqual([]);
  });
});

describe('resumable uploads (tus 1.0)', () => {
  const TUS = { 'tus-resumable': '1.0.0' };
  const base64 = (text: string) => Buffer.from(text).toString('base64');
  const create = (length: number, metadata: Record<string, string>) =>
    fetch(`${server.origin}/api/uploads`, {
      method: 'POST',
      headers: {
        ...TUS,
        'upload-length': String(length),
        'upload-metadata': Object.entries(metadata)
          .map(([key, value]) => `${key} ${base64(value)}`)
          .join(','),
      },
    });
  const send = (location: string, offset: number, body: Uint8Array<ArrayBuffer>) =>
    fetch(new URL(location, server.origin), {
      method: 'PATCH',
      headers: { ...TUS, 'upload-offset': String(offset), 'content-type': 'application/offset+octet-stream' },
      body,
    });

  it('goes on where it broke, over a restart, and becomes a recording', async () => {
    const { id: titleId } = await addTitle();
    const bytes = new Uint8Array(await (await voiceFile('x', 4, 31)).arrayBuffer());
    const created = await create(bytes.length, { titleId, filename: 'lange Nacht.wav' });
    expect(created.status).toBe(201);
    const location = created.headers.get('location')!;
    expect((await send(location, 0, bytes.slice(0, 50_000))).headers.get('upload-offset')).toBe('50000');
    await server.close();
    await server.open();
    const head = await fetch(new URL(location, server.origin), { method: 'HEAD', headers: TUS });
    expect(head.headers.get('upload-offset')).toBe('50000');
    expect((await send(location, 50_000, bytes.slice(50_000))).status).toBe(204);
    const [recording] = await measured(titleId);
    expect(recording).toMatchObject({ name: 'lange Nacht.wav', status: 'ready', sizeBytes: bytes.length });
    expect(await readdir(join(server.dataFolder, 'uploads'))).toEqual([]);
  });

  it('P13: what was sent to its end and not recorded when the server ended is recorded at the next start, once', async () => {
    const { id: titleId } = await addTitle();
    const folder = join(server.dataFolder, 'uploads');
    const bytes = new Uint8Array(await (await voiceFile('x', 4, 32)).arrayBuffer());
    const location = (await create(bytes.length, { titleId, filename: 'bis zuletzt.wav' })).headers.get('location')!;
    const id = location.split('/').at(-1)!;
    await send(location, 0, bytes.slice(0, 50_000));
    const config = (await readdir(folder)).find((name) => name.endsWith('.json'))!;
    const said = await readFile(join(folder, config));
    await server.close();
    // all of it has come, and nobody has taken it over
    await appendFile(join(folder, id), bytes.slice(50_000));
    await server.open();
    expect(await measured(titleId)).toMatchObject([{ name: 'bis zuletzt.wav', sizeBytes: bytes.length }]);
    expect(await readdir(folder)).toEqual([]);
    // who sent it and asks how far it is learns that it is there
    const head = await fetch(new URL(location, server.origin), { method: 'HEAD', headers: TUS });
    expect([head.status, head.headers.get('upload-offset')]).toEqual([200, String(bytes.length)]);
    await server.close();
    // recorded, and not tidied up yet
    await writeFile(join(folder, id), bytes);
    await writeFile(join(folder, config), said);
    await server.open();
    expect(await measured(titleId)).toHaveLength(1);
    expect(await readdir(folder)).toEqual([]);
  });

  it.each<[string, Record<string, string>, number]>([
    ['without a title', { filename: 'a.wav' }, 400],
    ['for an unknown title', { titleId: 'nowhere', filename: 'a.wav' }, 404],
  ])('is refused %s', async (_, metadata, status) => {
    expect((await create(100, metadata)).status).toBe(status);
  });

  it('P13: is refused before a byte is sent where it would take the place of what is not there', async () => {
    const { id: titleId } = await addTitle();
    expect((await create(100, { titleId, filename: 'a.wav', replaces: 'nobody' })).status).toBe(404);
  });

  it('is refused beyond the limit', async () => {
    const { id: titleId } = await addTitle();
    expect((await create(5_000_000, { titleId })).status).toBe(413);
  });
});

describe('labels and trash', () => {
  it('labels many at once and leaves alone what is not named', async () => {
    const { id: titleId } = await addTitle();
    const [a, b] = (await upload(titleId, await voiceFile('a.wav', 3), await voiceFile('b.wav', 3))).body;
    await measured(titleId);
    await server.call('PATCH', '/recordings', { ids: [a.id], speaker: 'Ada', room: 'booth' });
    const { body } = await server.call<Recording[]>('PATCH', '/recordings', {
      ids: [a.id, b.id],
      microphone: ' large  ',
    });
    expect(body.map(({ speaker, microphone, room }) => [speaker, microphone, room])).toEqual([
      ['Ada', 'large', 'booth'],
      ['', 'large', ''],
    ]);
  });

  it('moves to the trash and back; what lies there is not run', async () => {
    const { id: titleId } = await addTitle();
    const [a, b] = (await upload(titleId, await voiceFile('a.wav', 3), await voiceFile('b.wav', 3))).body;
    await measured(titleId);
    await server.call('PATCH', '/recordings', { ids: [a.id], trashed: true });
    const names = async (path: string) => (await server.call<Recording[]>('GET', path)).body.map(({ name }) => name);
    expect(await names(`/titles/${titleId}/recordings`)).toEqual(['b.wav']);
    expect(await names(`/titles/${titleId}/trash`)).toEqual(['a.wav']);
    expect((await server.call<Title>('GET', `/titles/${titleId}`)).body.recordingCount).toBe(1);
    const { body: chain } = await addChain([]);
    const wanted = {
      titleId,
      recordingIds: [a.id, b.id],
      chainId: chain.id,
      targetId: (await targetCalled('Podcast, mono')).id,
    };
    expect((await server.call('POST', '/runs', wanted)).status).toBe(404);
    await server.call('PATCH', '/recordings', { ids: [a.id], trashed: false });
    expect(await names(`/titles/${titleId}/recordings`)).toEqual(['a.wav', 'b.wav']);
  });

  it('changes none where one is unknown', async () => {
    const { id: titleId } = await addTitle();
    const [a] = (await upload(titleId, await voiceFile('a.wav', 3))).body;
    expect((await server.call('PATCH', '/recordings', { ids: [a.id, 'nobody'], speaker: 'X' })).status).toBe(404);
    expect((await server.call<Recording>('GET', `/recordings/${a.id}`)).body.speaker).toBe('');
  });
});

describe('looking at a recording', () => {
  it('answers any stretch at any zoom, and its spectra; says what is wrong with a question', async () => {
    const { id: titleId } = await addTitle();
    const [{ id }, { id: words }] = (
      await upload(titleId, await voiceFile('seen.wav', 6, 41), new File(['words'], 'words.wav'))
    ).body;
    await measured(titleId);
    const { body: view } = await server.call<RecordingView>('GET', `/recordings/${id}/view?from=0&to=6&columns=300`);
    expect(view).toHaveProperty('channels');
    expect(view.channels[0].high).toHaveLength(300);
    expect(Math.max(...view.channels[0].high)).toBeGreaterThan(0.05);
    expect(view.speech.length).toBeGreaterThan(0);
    const { body: near } = await server.call<RecordingView>(
      'GET',
      `/recordings/${id}/view?from=2&to=2.001&columns=300`,
    );
    expect(near.samples!.values[0]).toHaveLength(23);
    const spectra = await fetch(`${server.origin}/api/recordings/${id}/spectrogram?from=0&to=6&columns=50&rows=40`);
    expect((await spectra.arrayBuffer()).byteLength).toBe(2000);
    expect((await server.call('GET', `/recordings/${id}/view?from=3&to=2&columns=10`)).status).toBe(422);
    expect((await server.call('GET', `/recordings/${words}/view?from=0&to=1&columns=10`)).status).toBe(409);
  });

  it('surveys again what has been lost', async () => {
    const { id: titleId } = await addTitle();
    const [{ id, sha256 }] = (await upload(titleId, await voiceFile('lost.wav', 3, 43))).body;
    await measured(titleId);
    await server.close();
    await rm(join(server.dataFolder, 'derived', `${sha256}.survey`));
    await server.open();
    await measured(titleId);
    expect((await server.call('GET', `/recordings/${id}/view?from=0&to=1&columns=10`)).status).toBe(200);
  });
});

describe('takes, order and folders', () => {
  it('puts a new take in the place of a recording, keeps the old one, and goes back to it', async () => {
    const { id: titleId } = await addTitle();
    const [first, second] = (await upload(titleId, await voiceFile('1.wav'), await voiceFile('2.wav', 4, 3))).body;
    await measured(titleId);
    await server.call('PATCH', '/recordings', { ids: [first.id], speaker: 'Ines' });
    const form = new FormData();
    form.append('files', await voiceFile('1 again.wav', 5, 9));
    const path = `/titles/${titleId}/recordings?replaces=${first.id}`;
    const [take] = (await server.call<Recording[]>('POST', path, form)).body;
    const list = await measured(titleId);
    expect(list.map(({ id }) => id)).toEqual([take.id, second.id]);
    expect(list[0]).toMatchObject({ name: '1 again.wav', position: 1, speaker: 'Ines', status: 'ready' });
    const takes = (await server.call<Recording[]>('GET', `/recordings/${take.id}/takes`)).body;
    expect(takes.map(({ id, superseded }) => [id, superseded])).toEqual([
      [take.id, false],
      [first.id, true],
    ]);
    await server.call('POST', `/recordings/${first.id}/use`);
    expect((await measured(titleId)).map(({ id }) => id)).toEqual([first.id, second.id]);
    const two = new FormData();
    for (const name of ['a.wav', 'b.wav']) two.append('files', await voiceFile(name, 1));
    expect((await server.call('POST', path, two)).status).toBe(422);
  });

  it('keeps the order that files come in, until people wish another', async () => {
    const { id: titleId } = await addTitle();
    const sent = ['10 Harbour.wav', '2 Tide.wav', '1 Salt.wav'];
    const added = (await upload(titleId, ...(await Promise.all(sent.map((name) => voiceFile(name, 1)))))).body;
    const names = async () => (await measured(titleId)).map(({ name }) => name);
    expect(await names()).toEqual(sent);
    await server.call('PUT', `/titles/${titleId}/order`, { recordingIds: [added[2].id] });
    expect(await names()).toEqual(['1 Salt.wav', '10 Harbour.wav', '2 Tide.wav']);
    expect((await server.call('PUT', `/titles/${titleId}/order`, { recordingIds: ['nobody'] })).status).toBe(404);
  });

  it('brings in files of configured folders, and of no other', async () => {
    const inbox = join(server.dataFolder, 'inbox');
    await mkdir(join(inbox, 'Monday'), { recursive: true });
    const voice = Buffer.from(await (await voiceFile('a.wav', 1)).arrayBuffer());
    await writeFile(join(inbox, 'Monday', 'Talk 1.wav'), voice);
    await symlink('/nowhere/at/all', join(inbox, 'dead link.wav'));
    await symlink('/etc', join(inbox, 'elsewhere'));
    const list = (path: string) => server.call<Folder & Problem>('GET', `/folders?path=${encodeURIComponent(path)}`);
    expect((await list('')).body).toEqual({ roots: ['inbox'], folders: ['Monday'], files: [] });
    expect((await list('Monday')).body.files).toMatchObject([{ name: 'Talk 1.wav', sizeBytes: voice.length }]);
    for (const path of ['..', '../blobs', 'elsewhere', 'Monday/../../blobs', '/etc'])
      expect((await list(path)).status).toBe(404);
    const { id: titleId } = await addTitle();
    const bring = (body: object) => server.call('POST', `/titles/${titleId}/recordings/from-folder`, body);
    expect((await bring({ path: 'Monday', files: ['Talk 1.wav'] })).status).toBe(201);
    expect((await measured(titleId))[0]).toMatchObject({ name: 'Talk 1.wav', status: 'ready' });
    expect((await bring({ path: '', files: ['../tonos.sqlite'] })).status).toBe(404);
    expect((await bring({ path: '', files: ['Monday'] })).status).toBe(422);
  });
});

describe('what people mark in a recording', () => {
  it('is kept, checked, and used by the next run: boxes first, noise learned where they say', async () => {
    const { id: titleId } = await addTitle();
    const [{ id }] = (await upload(titleId, await voiceFile('Marked.wav'))).body;
    await measured(titleId);
    const marks = [{ id: 'a', name: 'Chapter 2', startSeconds: 1.5, endSeconds: 1.5 }];
    const roomToneChoice = { use: [{ startSeconds: 0.1, endSeconds: 0.8 }], never: [] };
    const boxes = [{ startSeconds: 1, endSeconds: 2, lowHz: 100, highHz: 300, gainDb: -12 }];
    await server.call('PATCH', `/recordings/${id}`, { marks });
    await server.call('PATCH', `/recordings/${id}`, { roomToneChoice, boxes });
    const { body: recording } = await server.call<Recording>('GET', `/recordings/${id}`);
    expect(recording).toMatchObject({ marks, roomToneChoice, boxes });
    const backwards = { boxes: [{ ...boxes[0], endSeconds: 0.5 }] };
    const refused = await server.call<Problem>('PATCH', `/recordings/${id}`, backwards);
    expect([refused.status, refused.body.detail]).toEqual([422, expect.stringMatching(/0\.5 s, before its start/)]);

    const { body: chain } = await addChain([{ kind: 'noise-reduction' }]);
    const target = await targetCalled('Podcast, mono');
    const { body: run } = await server.call<Run>('POST', '/runs', {
      titleId,
      recordingIds: [id],
      chainId: chain.id,
      targetId: target.id,
    });
    const [item] = (await ended(run.id)).items;
    expect(item.findings.map(({ kind }) => kind)).toEqual(['boxes', 'noise-reduction', 'finish']);
    expect(item.findings[1].findings).toMatchObject({ method: 'room-tone', regions: roomToneChoice.use });
  });
});

it('gives samples of any stretch of a recording and of a delivery, as they decode', async () => {
  const { id: titleId } = await addTitle();
  const [{ id }] = (await upload(titleId, await voiceFile('Take.wav', 3))).body;
  await measured(titleId);
  const samples = async (path: string) =>
    new Float32Array(await (await fetch(`${server.origin}/api${path}`)).arrayBuffer());
  const all = await samples(`/recordings/${id}/samples?from=0&frames=100000`);
  expect(all).toHaveLength(3 * 22050);
  const part = await samples(`/recordings/${id}/samples?from=30000&frames=500`);
  expect([...part]).toEqual([...all.subarray(30_000, 30_500)]);
  expect((await server.call('GET', `/recordings/${id}/samples?from=-1&frames=10`)).status).toBe(422);

  const { body: chain } = await addChain([]);
  const target = await targetCalled('Podcast, mono');
  const body = { titleId, recordingIds: [id], chainId: chain.id, targetId: target.id };
  const { body: run } = await server.call<Run>('POST', '/runs', body);
  const [item] = (await ended(run.id)).items;
  const delivered = await samples(`/runs/${run.id}/items/${item.id}/samples?from=0&frames=200000`);
  expect(delivered.length).toBe(Math.round(item.after!.durationSeconds * 44100));
  const peak = delivered.reduce((most, x) => Math.max(most, Math.abs(x)), 0);
  expect(20 * Math.log10(peak)).toBeCloseTo(item.after!.samplePeakDbfs!, 3);
  // an MP3 of ours is decoded from anywhere: there is no copy of it
  const output = Buffer.from(
    await (await fetch(`${server.origin}/api/runs/${run.id}/items/${item.id}/output`)).arrayBuffer(),
  );
  const stretch = await samples(`/runs/${run.id}/items/${item.id}/samples?from=70000&frames=500`);
  expect(stretch).toHaveLength(500);
  for (const [i, x] of stretch.entries()) expect(x).toBeCloseTo(delivered[70_000 + i], 5);
  const sha256 = createHash('sha256').update(output).digest('hex');
  const derived = await readdir(join(server.dataFolder, 'derived'));
  expect(derived.filter((name) => name.startsWith(sha256))).toEqual([`${sha256}.survey`]);
});

describe('chains', () => {
  const gain = (gainDb: number) => ({ kind: 'gain', settings: { gainDb } });

  it('keep revisions for ever, and a draft until it is kept', async () => {
    const { body: made } = await addChain([gain(1)]);
    await server.call('PUT', `/chains/${made.id}/draft`, { steps: [gain(2)], basedOn: 1 });
    expect((await server.call<Chain>('GET', `/chains/${made.id}`)).body).toMatchObject({
      revision: 1,
      hasDraft: true,
      draft: { steps: [{ settings: { gainDb: 2 } }] },
    });
    const kept = await server.call<Chain>('POST', `/chains/${made.id}/revisions`, {
      steps: [gain(3)],
      note: 'louder',
      basedOn: 1,
    });
    expect(kept.body).toMatchObject({
      revision: 2,
      draft: null,
      revisions: [{ revision: 2, note: 'louder' }, { revision: 1 }],
    });
    expect((await server.call('GET', `/chains/${made.id}/revisions/1`)).body).toMatchObject({
      format: 'tonos.chain/1',
      revision: 1,
      steps: [{ settings: { gainDb: 1 } }],
    });
    expect((await server.call<ChainSummary[]>('GET', '/chains')).body.find(({ id }) => id === made.id)).toMatchObject({
      revision: 2,
      hasDraft: false,
    });
  });

  it('refuse work that started from an older revision', async () => {
    const { body: made } = await addChain([gain(1)]);
    await server.call('POST', `/chains/${made.id}/revisions`, { steps: [gain(2)], basedOn: 1 });
    expect(await server.call('POST', `/chains/${made.id}/revisions`, { steps: [gain(5)], basedOn: 1 })).toMatchObject({
      status: 409,
      body: { code: 'stale-revision' },
    });
  });

  it('refuse a setting out of range, with step, setting, minimum and maximum', async () => {
    expect(await addChain([gain(1), { kind: 'high-pass', settings: { frequencyHz: 1 } }])).toMatchObject({
      status: 422,
      body: { step: 2, setting: 'frequencyHz', minimum: 10, maximum: 20000 },
    });
  });

  it('keep a kind of another version as it is, but do not run it', async () => {
    const { status, body: chain } = await addChain([{ kind: 'time-machine', settings: { years: 3 } }]);
    expect(status).toBe(201);
    expect(chain.steps).toMatchObject([{ kind: 'time-machine', settings: { years: 3 } }]);
    const { id: titleId } = await addTitle();
    const [{ id }] = (await upload(titleId, await voiceFile('a.wav', 3))).body;
    const answer = await server.call<Problem>('POST', '/runs', {
      titleId,
      recordingIds: [id],
      chainId: chain.id,
      targetId: (await targetCalled('Podcast, mono')).id,
    });
    expect(answer.status).toBe(422);
    expect(answer.body.detail).toMatch(/time-machine/);
  });
});

describe('runs', () => {
  async function prepared(files: File[], targetName = 'Podcast, mono', steps: unknown[] = [{ kind: 'high-pass' }]) {
    const { id: titleId } = await addTitle('The Night Ferry');
    const recordings = (await upload(titleId, ...files)).body;
    const { body: chain } = await addChain(steps);
    const target = await targetCalled(targetName);
    return { titleId, recordingIds: recordings.map(({ id }) => id), chainId: chain.id, targetId: target.id };
  }

  it('go through every recording, tell the figures before and after, and end though some fail', async () => {
    const silence = new File(
      [await voiceFile('x', 3)].map((file) => file),
      'x',
    );
    const bytes = new Uint8Array(await silence.arrayBuffer());
    bytes.fill(0, bytes.length - 2 * 3 * 22050);
    const wanted = await prepared([
      await voiceFile('one.wav'),
      new File([bytes], 'silent.wav'),
      new File(['not a sound'], 'words.wav'),
      await voiceFile('one.wav', 4, 9),
    ]);
    const run = await ended((await server.call<Run>('POST', '/runs', wanted)).body.id);
    expect(run.status).toBe('finished');
    expect(run.items.map(({ status }) => status)).toEqual(['within', 'failed', 'failed', 'within']);
    const [first, silent, words, last] = run.items;
    expect(first.before!.integratedLufs).not.toBe(first.after!.integratedLufs);
    expect(Math.abs(first.after!.integratedLufs! + 19)).toBeLessThan(0.1);
    expect(first.after).toMatchObject({ container: 'mp3', channels: 1, sampleRateHz: 44100 });
    expect(Math.abs(first.after!.durationSeconds - 4)).toBeLessThan(0.03);
    expect(first.limits).toMatchObject([
      { measure: 'integratedLufs', min: -20, max: -18, result: 'within', by: 0 },
      { measure: 'truePeakDbtp', min: null, max: -1 },
    ]);
    expect(silent.error!.message).toMatch(/silent\.wav.*silence/);
    expect(words.error!.message).toMatch(/words\.wav/);
    expect([first.output!.name, last.output!.name]).toEqual(['one.mp3', 'one (2).mp3']);

    const file = await fetch(`${server.origin}/api/runs/${run.id}/items/${first.id}/output`);
    expect(file.headers.get('content-type')).toBe('audio/mpeg');
    expect(
      createHash('sha256')
        .update(new Uint8Array(await file.arrayBuffer()))
        .digest('hex'),
    ).toBe(first.output!.sha256);
    expect((await server.call('GET', `/runs/${run.id}/items/${silent.id}/output`)).status).toBe(404);

    const zip = Buffer.from(await (await fetch(`${server.origin}/api/runs/${run.id}/package`)).arrayBuffer()).toString(
      'latin1',
    );
    for (const name of [
      'bagit.txt',
      'manifest-sha256.txt',
      'data/one.mp3',
      'data/one (2).mp3',
      'data/report.json',
      '"tonos.report/1"',
      first.output!.sha256,
    ])
      expect(zip).toContain(name);
    expect(await readdir(join(server.dataFolder, 'tmp'))).toEqual([]);
    expect(await readdir(join(server.dataFolder, 'spool'))).toEqual([]);
  });

  it('render two items at the same time, and answer meanwhile', async () => {
    const wanted = await prepared([await voiceFile('a.wav', 12, 1), await voiceFile('b.wav', 12, 2)], 'Podcast, mono', [
      { kind: 'noise-reduction' },
      { kind: 'limiter' },
    ]);
    const { body: run } = await server.call<Run>('POST', '/runs', wanted);
    await server.until<Run>(`/runs/${run.id}`, ({ counts }) => counts.working === 2);
    expect((await server.call('GET', '/health')).status).toBe(200);
    await ended(run.id);
  });

  it('can be cancelled at once; what is finished stays, and what was cancelled can be tried again', async () => {
    const wanted = await prepared(
      [await voiceFile('a.wav', 12, 3), await voiceFile('b.wav', 12, 4), await voiceFile('c.wav', 12, 5)],
      'Podcast, mono',
      [{ kind: 'noise-reduction' }],
    );
    const { body: started } = await server.call<Run>('POST', '/runs', wanted);
    await server.until<Run>(`/runs/${started.id}`, ({ counts }) => counts.working > 0);
    const { body: cancelled } = await server.call<Run>('POST', `/runs/${started.id}/cancel`);
    expect(cancelled.status).toBe('cancelled');
    expect(cancelled.counts.queued + cancelled.counts.working).toBe(0);
    const { id } = cancelled.items[2];
    const again = await server.call<Run>('POST', `/runs/${started.id}/retry`, { itemIds: [id] });
    expect(again.body.items[2].status).toMatch(/queued|working/);
    const run = await ended(started.id);
    expect(run.items.map(({ status }) => status)).toEqual(['cancelled', 'cancelled', 'within']);
    expect(await server.until<string[]>('/health', () => true)).toBeTruthy();
  });

  it('retry only what failed, by default', async () => {
    const wanted = await prepared([await voiceFile('fine.wav', 3), new File(['no'], 'bad.wav')]);
    const first = await ended((await server.call<Run>('POST', '/runs', wanted)).body.id);
    const kept = first.items[0].output!.sha256;
    const { body: reopened } = await server.call<Run>('POST', `/runs/${first.id}/retry`);
    expect(reopened.items[0].status).toBe('within');
    const second = await ended(first.id);
    expect(second.items.map(({ status }) => status)).toEqual(['within', 'failed']);
    expect(second.items[0].output!.sha256).toBe(kept);
  });

  it('refuse an unknown recording', async () => {
    const wanted = await prepared([await voiceFile('a.wav', 3)]);
    expect(
      (await server.call('POST', '/runs', { ...wanted, recordingIds: [...wanted.recordingIds, 'nobody'] })).status,
    ).toBe(404);
  });

  it('go on after the server was stopped in the middle, with everything else still there', async () => {
    const wanted = await prepared(
      [await voiceFile('a.wav', 10, 6), await voiceFile('b.wav', 10, 7), await voiceFile('c.wav', 10, 8)],
      'Broadcast, EBU R 128',
      [{ kind: 'noise-reduction' }],
    );
    const { body: started } = await server.call<Run>('POST', '/runs', wanted);
    await server.until<Run>(`/runs/${started.id}`, ({ counts }) => counts.working > 0);
    await server.close();
    expect(await readdir(join(server.dataFolder, 'spool'))).toEqual([]);
    await server.open();
    const run = await ended(started.id);
    expect(run.items.map(({ status }) => status)).toEqual(['within', 'within', 'within']);
    expect(run.items[0].after).toMatchObject({ container: 'wav', bitDepth: 24, sampleRateHz: 48000 });
    expect((await server.call<Title[]>('GET', '/titles')).body.some(({ name }) => name === 'The Night Ferry')).toBe(
      true,
    );
    expect(server.errors).toEqual([]);
  });
});

it('tells of every change by server-sent events', async () => {
  const controller = new AbortController();
  const stream = await fetch(`${server.origin}/api/events`, { signal: controller.signal });
  expect(stream.headers.get('content-type')).toMatch(/text\/event-stream/);
  const { id } = await addTitle();
  await upload(id, await voiceFile('heard.wav', 3, 21));
  let text = '';
  for await (const chunk of stream.body as unknown as AsyncIterable<Uint8Array>) {
    text += Buffer.from(chunk).toString();
    if (text.includes('"status":"ready"')) break;
  }
  controller.abort();
  expect(text).toMatch(/data: \{"type":"recording","recording":\{.*"status":"measuring"/);
});
