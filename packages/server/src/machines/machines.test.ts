import { readdir, readFile, symlink, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type {
  Chain,
  ProcessorModule,
  Recording,
  RecordingSet,
  Run,
  RunItem,
  Target,
  Title,
  WorkerTokenMade,
} from '@tonos/contract';
import { freePort, TestServer, voiceFile } from '../testing/test-server.ts';
import { machineOf, TestWorker, VERSION } from '../testing/test-worker.ts';

/** Machines that work along: real processes, and what becomes of work when they, the server or a disk fail. */

const SOUNDS = 6;
let server: TestServer;
let token: string;
const workers: TestWorker[] = [];
let title: Title;
let chain: Chain;
let target: Target;
let recordings: Recording[];

const joins = async (name: string, env?: Record<string, string>): Promise<TestWorker> => {
  const worker = await TestWorker.start(server, { name, token, env });
  workers.push(worker);
  await machineOf(server, name, ({ state }) => state !== 'lost');
  return worker;
};
const start = async (ids = recordings.map(({ id }) => id)): Promise<string> => {
  const wanted = { titleId: title.id, recordingIds: ids, chainId: chain.id, targetId: target.id };
  return (await server.call<Run>('POST', '/runs', wanted)).body.id;
};
const finished = (id: string) => server.until<Run>(`/runs/${id}`, ({ status }) => status === 'finished');
const madeBy = (item: RunItem) => item.machine?.name;
const hashes = ({ items }: Run) => items.map(({ output }) => output?.sha256);

beforeAll(async () => {
  server = await TestServer.start({ port: await freePort(), version: VERSION, localThreads: 0 });
  token = (await server.call<WorkerTokenMade>('POST', '/worker-tokens', { name: 'tests' })).body.token;
  title = (await server.call<Title>('POST', '/titles', { name: 'Locks', kind: 'podcast' })).body;
  const form = new FormData();
  for (let k = 0; k < SOUNDS; k++) form.append('files', await voiceFile(`${k}.wav`, 8, 20 + k));
  await server.call<Recording[]>('POST', `/titles/${title.id}/recordings`, form);
  const tilt = await fetch(`${server.origin}/api/modules?name=tilt.wasm`, {
    method: 'POST',
    headers: { 'content-type': 'application/wasm' },
    body: await readFile(new URL('../../../module-kit/tilt/tilt.wasm', import.meta.url)),
  });
  const { sha256 } = (await tilt.json()) as ProcessorModule;
  const steps = [
    // a module travels with the job that names it
    { id: 'own', kind: 'custom', settings: { module: { sha256, name: 'Tilt' }, tiltDb: 4 } },
    { id: 'calm', kind: 'noise-reduction', settings: {} },
    { id: 'even', kind: 'compressor', settings: {} },
  ];
  const made = await server.call<Chain>('POST', '/chains', { name: 'Two steps', steps });
  expect(made.status).toBe(201);
  chain = made.body;
  target = (
    await server.call<Target>('POST', '/targets', {
      name: 'Any',
      limits: [{ measure: 'integratedLufs', min: -60, max: 0 }],
      output: { container: 'flac', bitDepth: 24 },
    })
  ).body;
});
afterAll(async () => {
  for (const worker of workers) await worker.remove();
  await server.remove();
});

/** Two that are linked, rendered together by one machine. */
async function runOfSet(): Promise<Run> {
  const { id: titleId } = (await server.call<Title>('POST', '/titles', { name: 'Lock keepers', kind: 'podcast' })).body;
  const form = new FormData();
  for (const seed of [31, 32]) form.append('files', await voiceFile(`keeper ${seed}.wav`, 6, seed));
  await server.call('POST', `/titles/${titleId}/recordings`, form);
  const path = `/titles/${titleId}/recordings`;
  const both = await server.until<Recording[]>(path, (all) => all.every(({ status }) => status === 'ready'));
  const recordingIds = both.map(({ id }) => id);
  const set = (await server.call<RecordingSet>('POST', `/titles/${titleId}/sets`, { recordingIds, anyway: true })).body;
  // the other one began later, and its clock is off: both are rendered on one time
  const members = set.members.map((member, i) => ({ ...member, offsetSeconds: 0.7 * i, driftPpm: 40 * i }));
  expect((await server.call('PATCH', `/sets/${set.id}`, { members })).status).toBe(200);
  const wanted = { titleId, recordingIds, chainId: chain.id, targetId: target.id };
  const run = await finished((await server.call<Run>('POST', '/runs', wanted)).body.id);
  const [one, other] = run.items;
  expect(one.after!.durationSeconds).toBe(other.after!.durationSeconds);
  expect(one.machine).toEqual(other.machine);
  expect(one.machine).not.toBeNull();
  return run;
}

it('what comes in is measured by a machine that works along, and rendered by two: to the byte as by one machine', async () => {
  await joins('north');
  await joins('south');
  const path = `/titles/${title.id}/recordings`;
  recordings = await server.until<Recording[]>(path, (all) => all.every(({ status }) => status === 'ready'));
  expect(recordings).toHaveLength(SOUNDS);
  const run = await finished(await start());
  expect(run.items.map(({ status }) => status)).toEqual(run.items.map(() => 'within'));
  expect([...new Set(run.items.map(madeBy))].sort()).toEqual(['north', 'south']);
  const pair = await runOfSet();
  // its own pictures came along: nobody has to make them again
  const derived = await readdir(join(server.dataFolder, 'derived'));
  for (const sha256 of hashes(run)) expect(derived).toContain(`${sha256}.survey`);

  await server.close();
  const options = { version: VERSION, localThreads: 2, port: await freePort() };
  const alone = await TestServer.over(server.dataFolder, options);
  // tried again, a run is as it was: what it writes hangs on nothing else
  const itemIds = run.items.map(({ id }) => id);
  await alone.call('POST', `/runs/${run.id}/retry`, { itemIds });
  const own = await alone.until<Run>(`/runs/${run.id}`, ({ status }) => status === 'finished');
  expect(own.items.map(madeBy)).toEqual(own.items.map(() => undefined));
  expect(hashes(own)).toEqual(hashes(run));
  await alone.call('POST', `/runs/${pair.id}/retry`, { itemIds: pair.items.map(({ id }) => id) });
  expect(hashes(await alone.until<Run>(`/runs/${pair.id}`, ({ status }) => status === 'finished'))).toEqual(
    hashes(pair),
  );
  await alone.close();
  // the machines have waited for the server, and go on
  await server.open();
  await server.call('POST', `/runs/${run.id}/retry`, { itemIds });
  const third = await finished(run.id);
  expect(hashes(third)).toEqual(hashes(run));
  expect(third.items.every((item) => item.machine !== null)).toBe(true);
});

it('one that drains ends what it has and gets nothing new until it is taken back in', async () => {
  const { id } = await machineOf(server, 'north');
  expect((await server.call('POST', `/machines/${id}/drain`)).status).toBe(204);
  const run = await finished(await start());
  expect(run.items.map(madeBy)).toEqual(run.items.map(() => 'south'));
  expect((await machineOf(server, 'north')).state).toBe('draining');
  expect((await server.call('DELETE', `/machines/${id}`)).body).toMatchObject({ code: 'still-there' });
  await server.call('POST', `/machines/${id}/resume`);
  await machineOf(server, 'north', ({ state }) => state === 'resting');
});

it('a damaged file in a cache is noticed where it is used, and fetched again', async () => {
  for (const { cacheFolder } of workers)
    for (const name of await readdir(join(cacheFolder, 'files')))
      await writeFile(join(cacheFolder, 'files', name), 'x');
  const run = await finished(await start());
  expect(run.items.map(({ status }) => status)).toEqual(run.items.map(() => 'within'));
});

it('the disk of one machine is full: it gives its work back with the reason, and rests', async () => {
  const worker = await joins('attic');
  const others = await Promise.all(['north', 'south'].map((name) => machineOf(server, name)));
  for (const { id } of others) await server.call('POST', `/machines/${id}/drain`);
  // whatever is written there meets a full disk
  await symlink('/dev/full', join(worker.cacheFolder, 'tmp', `${recordings[0].sha256}.part`));
  const id = await start([recordings[0].id]);
  const full = await machineOf(server, 'attic', ({ reason }) => reason !== null);
  expect(full.reason).toContain('full');
  expect(full.state).toBe('resting');
  expect((await server.call<Run>('GET', `/runs/${id}`)).body.items[0].status).toBe('queued');
  for (const one of others) await server.call('POST', `/machines/${one.id}/resume`);
  expect((await finished(id)).items[0].status).toBe('within');
  await worker.remove();
});

it('one is killed, one hangs: all is done elsewhere within half a minute, once each; what comes late is refused', async () => {
  const [north, south] = workers;
  const before = await machineOf(server, 'north');
  // more of it than both can do at once
  const ids = await Promise.all([1, 2, 3].map(() => start()));
  const busy = (name: string) => machineOf(server, name, ({ doing }) => doing.length > 0);
  await Promise.all([busy('north'), busy('south')]);
  north.signal('SIGSTOP');
  south.signal('SIGKILL');
  const atMs = Date.now();
  const east = await joins('east');
  // whatever else is going on: nobody holds what the two had
  for (const name of ['north', 'south']) await machineOf(server, name, ({ doing }) => doing.length === 0);
  expect(Date.now() - atMs).toBeLessThan(30_000);
  const runs = await Promise.all(ids.map(finished));
  const items = runs.flatMap((run) => run.items);
  expect(items.map(({ status }) => status)).toEqual(items.map(() => 'within'));
  expect(new Set(items.map(({ output }) => output?.sha256)).size).toBe(3 * SOUNDS);
  expect(items.some((item) => madeBy(item) === 'east')).toBe(true);
  expect((await machineOf(server, 'south', ({ state }) => state === 'lost')).doing).toEqual([]);
  // the one that hung comes back, learns that its work is gone, and goes on with new work
  north.signal('SIGCONT');
  const back = await machineOf(server, 'north', ({ state, doing }) => state === 'resting' && doing.length === 0);
  expect(back.id).toBe(before.id);
  east.signal('SIGTERM');
  expect(await east.ended()).toBe(0);
  await server.call('POST', `/runs/${runs[0].id}/retry`, { itemIds: runs[0].items.map(({ id }) => id) });
  const last = await finished(runs[0].id);
  expect(last.items.map(madeBy)).toEqual(last.items.map(() => 'north'));
  expect(hashes(last)).toEqual(hashes(runs[0]));
  // nothing was counted twice, and nobody holds anything
  expect((await server.call<Run[]>('GET', '/runs')).body.every(({ status }) => status === 'finished')).toBe(true);
  expect((await server.call<{ waiting: number }>('GET', '/machines')).body.waiting).toBe(0);
});

it('the server goes and comes back in the middle: machines go on with what they have, and send it when it is there', async () => {
  const id = await start();
  const { doing } = await machineOf(server, 'north', (machine) => machine.doing.length > 0);
  await server.close();
  // long enough for what was under way to be done, and sent in vain
  await new Promise((resolve) => setTimeout(resolve, 4000));
  await server.open();
  const now = (await server.call<Run>('GET', `/runs/${id}`)).body.items.find((item) => item.id === doing[0].itemId)!;
  // neither begun again nor waiting: it is still north's, or done
  expect([now.status === 'working' || now.status === 'within', madeBy(now)]).toEqual([true, 'north']);
  const { items } = await finished(id);
  expect(items.map(({ status }) => status)).toEqual(items.map(() => 'within'));
  expect(items.find((item) => item.id === doing[0].itemId)!.machine!.name).toBe('north');
  expect(workers[0].said).toContain('The server is back.');
});

it('what somebody cancels stops elsewhere too, and one that is ended gives its work back', async () => {
  const [north] = workers;
  const id = await start();
  await machineOf(server, 'north', ({ doing }) => doing.length > 0);
  await server.call('POST', `/runs/${id}/cancel`);
  await machineOf(server, 'north', ({ state }) => state === 'resting');
  expect((await server.call<Run>('GET', `/runs/${id}`)).body.status).toBe('cancelled');

  const second = await start();
  await machineOf(server, 'north', ({ doing }) => doing.length > 0);
  north.signal('SIGTERM');
  expect(await north.ended()).toBe(0);
  const machine = await machineOf(server, 'north');
  expect([machine.state, machine.doing]).toEqual(['lost', []]);
  expect((await server.call<Run>('GET', `/runs/${second}`)).body.counts).toMatchObject({ working: 0 });
  expect(await readdir(join(north.cacheFolder, 'tmp'))).toEqual([]);
  north.open();
  await finished(second);
});

it('a forged token is told nothing; one that was ended ends its machine; another version gets no work', async () => {
  const forged = { authorization: `Bearer tnw_${'x'.repeat(43)}` };
  for (const path of ['/work/claim', '/work/hello', '/work/nothing']) {
    const { status, body } = await server.call('POST', path, {}, forged);
    expect([status, body.code]).toEqual([401, 'no-worker']);
  }
  // a file that no machine works on is not there, token or not
  const own = { authorization: `Bearer ${token}` };
  expect((await server.call('GET', `/work/blobs/${recordings[0].sha256}`, undefined, own)).status).toBe(404);

  const odd = (await server.call<WorkerTokenMade>('POST', '/worker-tokens', { name: 'odd' })).body;
  const hello = {
    id: '5f0c2f6e-8a6e-4a53-9a3c-0d6f3f0c9a11',
    name: 'old',
    version: '0.0.9',
    threads: 1,
    cacheLimitBytes: 0,
  };
  const speak = (path: string, body: object) =>
    server.call('POST', path, body, { authorization: `Bearer ${odd.token}` });
  expect((await speak('/work/hello', hello)).body).toMatchObject({ state: 'refused' });
  const run = await start();
  expect((await speak('/work/claim', { machine: hello.id })).body).toEqual({ work: null });
  const refused = await machineOf(server, 'old');
  expect([refused.state, refused.reason?.includes('0.0.9')]).toEqual(['refused', true]);
  await server.call('DELETE', `/worker-tokens/${odd.id}`);
  expect((await speak('/work/claim', { machine: hello.id })).status).toBe(401);
  await finished(run);

  const [{ id }] = (await server.call<{ id: string }[]>('GET', '/worker-tokens')).body;
  const [north] = workers;
  await server.call('DELETE', `/worker-tokens/${id}`);
  expect(await north.ended()).toBe(1);
  expect(north.said).toContain('token');
});
