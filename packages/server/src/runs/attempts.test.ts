import { mkdir, readdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type {
  Attempt,
  Chain,
  DeliveredPackage,
  Recording,
  Run,
  RunItem,
  Storage,
  Target,
  Title,
} from '@tonos/contract';
import { TestServer, voiceFile } from '../testing/test-server.ts';

let server: TestServer;
let chain: Chain;
let recording: Recording;
let run: Run;

beforeAll(async () => {
  server = await TestServer.start();
  const { id: titleId } = (await server.call<Title>('POST', '/titles', { name: 'Ropes', kind: 'podcast' })).body;
  const form = new FormData();
  form.append('files', await voiceFile('one.wav', 2, 3));
  [recording] = (await server.call<Recording[]>('POST', `/titles/${titleId}/recordings`, form)).body;
  const steps = [{ id: 'trim', kind: 'gain', settings: { gainDb: 2 } }];
  chain = (await server.call<Chain>('POST', '/chains', { name: 'Plain', steps })).body;
  const target = (
    await server.call<Target>('POST', '/targets', {
      name: 'As it is',
      limits: [{ measure: 'truePeakDbtp', max: 20 }],
      output: { container: 'wav', bitDepth: 24 },
    })
  ).body;
  const wanted = { titleId, recordingIds: [recording.id], chainId: chain.id, targetId: target.id };
  run = await finished((await server.call<Run>('POST', '/runs', wanted)).body.id);
});
afterAll(() => server.remove());

const finished = (id: string) => server.until<Run>(`/runs/${id}`, ({ status }) => status === 'finished');
const path = () => `/runs/${run.id}/items/${run.items[0].id}`;
const attempts = async () => (await server.call<Attempt[]>('GET', `${path()}/attempts`)).body;

it('keeps how an item came out when it is rendered again, and puts it back', async () => {
  expect(await attempts()).toEqual([]);
  const [first] = run.items;
  await server.call('PATCH', '/recordings', {
    ids: [recording.id],
    adjust: { chainId: chain.id, steps: [{ id: 'trim', settings: { gainDb: -10 } }] },
  });
  await server.call('POST', `/runs/${run.id}/retry`, { itemIds: [first.id] });
  const [second] = (await finished(run.id)).items;
  expect(second.after!.rmsDbfs).toBeCloseTo(first.after!.rmsDbfs! - 12, 1);
  const [kept, ...none] = await attempts();
  expect(none).toEqual([]);
  expect(kept).toMatchObject({ status: 'within', after: { rmsDbfs: first.after!.rmsDbfs } });
  // its file is needed: the store's account counts both
  const storage = (await server.call<Storage>('GET', '/storage')).body;
  expect(storage.titles[0].deliveries).toBe(2);

  const { body: back } = await server.call<RunItem>('POST', `${path()}/attempts/${kept.id}/use`);
  expect(back.output!.sha256).toBe(first.output!.sha256);
  expect(back.after!.rmsDbfs).toBe(first.after!.rmsDbfs);
  const output = await fetch(`${server.origin}/api${path()}/output`);
  expect((await output.arrayBuffer()).byteLength).toBe(first.output!.sizeBytes);
  const [other] = await attempts();
  expect(other.after!.rmsDbfs).toBe(second.after!.rmsDbfs);
  expect((await server.call('POST', `${path()}/attempts/${kept.id}/use`)).status).toBe(404);
});

it('does not list what came out the same again', async () => {
  const before = await attempts();
  const { output } = (await server.call<Run>('GET', `/runs/${run.id}`)).body.items[0];
  await server.call('PATCH', '/recordings', {
    ids: [recording.id],
    adjust: { chainId: chain.id, steps: [], replace: true },
  });
  await server.call('POST', `/runs/${run.id}/retry`, { itemIds: [run.items[0].id] });
  const [again] = (await finished(run.id)).items;
  expect(again.output!.sha256).toBe(output!.sha256);
  expect((await attempts()).length).toBe(before.length);
});

describe('delivery into a server folder', () => {
  const deliver = (to: object) =>
    server.call<DeliveredPackage & { code: string }>('POST', `/runs/${run.id}/delivery`, to);

  it('writes the package whole, and nothing over what is there', async () => {
    const folder = join(server.dataFolder, 'inbox', 'out');
    await mkdir(folder, { recursive: true });
    await writeFile(join(folder, 'Ropes, As it is.zip'), 'somebody else\u2019s');
    const { body, status } = await deliver({ path: 'out' });
    expect(status).toBe(201);
    expect(body.name).toBe('Ropes, As it is (2).zip');
    expect((await readdir(folder)).sort()).toEqual(['Ropes, As it is (2).zip', 'Ropes, As it is.zip']);
    const written = await readFile(join(folder, body.name));
    expect(written.length).toBe(body.sizeBytes);
    expect(written.subarray(0, 2).toString()).toBe('PK');
    expect(written.toString('latin1')).toContain('bagit.txt');
  });

  it('stays below the roots', async () => {
    for (const outside of ['..', '../blobs', '/etc', 'out/../../..'])
      expect((await deliver({ path: outside })).status).toBe(404);
    expect((await deliver({ root: 7 })).status).toBe(404);
    expect((await deliver({ path: 'out/Ropes, As it is.zip' })).body.code).toBe('no-folder');
  });
});

it('clears what recipes make again, and makes it again to the byte, whatever has changed since', async () => {
  const output = () => fetch(`${server.origin}/api${path()}/output`);
  const [before] = (await server.call<Run>('GET', `/runs/${run.id}`)).body.items;
  const account = (await server.call<Storage>('GET', '/storage')).body;
  expect(account.titles[0].clearableBytes).toBe(account.titles[0].deliveredBytes);
  const cleared = (await server.call<Storage>('POST', '/storage/clear-renders', { titleId: run.titleId })).body;
  expect(cleared.titles[0]).toMatchObject({ deliveries: 0, deliveredBytes: 0, clearableBytes: 0 });
  // figures and verdict stay, the file does not
  const [item] = (await server.call<Run>('GET', `/runs/${run.id}`)).body.items;
  expect(item).toEqual({ ...before, cleared: true });
  expect((await output()).status).toBe(410);
  expect((await server.call('GET', `/runs/${run.id}/package`)).status).toBe(409);
  expect((await server.call<{ faults: unknown[] }>('POST', '/storage/check')).body.faults).toEqual([]);

  await server.call('PATCH', '/recordings', {
    ids: [recording.id],
    adjust: { chainId: chain.id, steps: [{ id: 'trim', settings: { gainDb: -3 } }] },
  });
  await server.call('POST', `/runs/${run.id}/remake`);
  const [again] = (await finished(run.id)).items;
  expect(again).toMatchObject({ status: before.status, cleared: false, output: before.output });
  expect((await (await output()).arrayBuffer()).byteLength).toBe(before.output!.sizeBytes);
  expect((await fetch(`${server.origin}/api/runs/${run.id}/package`)).status).toBe(200);
});

it('renders on threads that give way to all others', async () => {
  // the niceness of every thread of this process: field 19 of its stat, counted behind the name in brackets
  const threads = await readdir('/proc/self/task');
  const stats = await Promise.all(threads.map((id) => readFile(`/proc/self/task/${id}/stat`, 'utf8').catch(() => '')));
  const niceness = stats.filter(Boolean).map((stat) => Number(stat.slice(stat.lastIndexOf(')') + 2).split(' ')[16]));
  expect(niceness).toContain(10);
  expect(niceness).toContain(0);
});
