import { join } from 'node:path';
import type {
  Chain,
  ForecastLine,
  LedgerLine,
  RecipeFile,
  Recording,
  Run,
  RunItem,
  Target,
  Title,
} from '@tonos/contract';
import Libsql from 'libsql';
import { TestServer, voiceFile } from '../testing/test-server.ts';

let server: TestServer;
let titleId: string;
let recordings: Recording[];
let chain: Chain;

beforeAll(async () => {
  server = await TestServer.start();
  titleId = (await server.call<Title>('POST', '/titles', { name: 'The Salt Road', kind: 'audiobook' })).body.id;
  const form = new FormData();
  for (const [name, seed] of [
    ['one.wav', 3],
    ['two.wav', 4],
  ] as const)
    form.append('files', await voiceFile(name, 3, seed));
  recordings = (await server.call<Recording[]>('POST', `/titles/${titleId}/recordings`, form)).body;
  const steps = [{ id: 'trim', kind: 'gain', settings: { gainDb: 2 } }];
  chain = (await server.call<Chain>('POST', '/chains', { name: 'Plain', steps })).body;
});
afterAll(() => server.remove());

async function ran(targetId: string): Promise<Run> {
  const recordingIds = recordings.map(({ id }) => id);
  const { body } = await server.call<Run>('POST', '/runs', { titleId, recordingIds, chainId: chain.id, targetId });
  return server.until<Run>(`/runs/${body.id}`, ({ status }) => status === 'finished');
}
const added = async (limits: unknown[]) =>
  (
    await server.call<Target>('POST', '/targets', {
      name: 'Kept as it is',
      limits,
      output: { container: 'wav', bitDepth: 24 },
    })
  ).body.id;

it('adjusts a chain for one recording only, and keeps what it was made from', async () => {
  const [one, two] = recordings;
  await server.call('PATCH', '/recordings', {
    ids: [one.id],
    adjust: { chainId: chain.id, steps: [{ id: 'trim', settings: { gainDb: -10 } }] },
  });
  const run = await ran(await added([{ measure: 'truePeakDbtp', max: 20 }]));
  const changes = run.items.map(({ before, after }) => after!.rmsDbfs! - before!.rmsDbfs!);
  // the peak limit lies out of reach: only the chain acts
  expect(changes[0]).toBeCloseTo(-10, 1);
  expect(changes[1]).toBeCloseTo(2, 1);

  const recipe = async (item: RunItem) =>
    (await server.call<RecipeFile>('GET', `/runs/${run.id}/items/${item.id}/recipe`)).body;
  const [adjusted, plain] = [await recipe(run.items[0]), await recipe(run.items[1])];
  expect(adjusted).toMatchObject({
    format: 'tonos.recipe/1',
    source: { name: 'one.wav', sha256: one.sha256 },
    chain: { name: 'Plain', revision: 1, steps: [{ settings: { gainDb: 2 } }] },
    adjustments: [{ id: 'trim', settings: { gainDb: -10 } }],
    findings: [{ kind: 'gain' }, { kind: 'finish' }],
  });
  expect(plain.adjustments).toEqual([]);

  const file = Buffer.from(
    await (await fetch(`${server.origin}/api/runs/${run.id}/items/${run.items[0].id}/output`)).arrayBuffer(),
  );
  expect(file.toString('latin1')).toContain(adjusted.sha256);
  await server.call('POST', `/runs/${run.id}/retry`, { itemIds: run.items.map(({ id }) => id) });
  const again = await server.until<Run>(`/runs/${run.id}`, ({ status }) => status === 'finished');
  expect(again.items.map(({ output }) => output!.sha256)).toEqual(run.items.map(({ output }) => output!.sha256));

  await server.call('PATCH', '/recordings', {
    ids: [one.id, two.id],
    adjust: { chainId: chain.id, steps: [], replace: true },
  });
  expect((await server.call<Recording>('GET', `/recordings/${one.id}`)).body.adjustments).toEqual({ [chain.id]: [] });
});

it('touches only what is named where many are adjusted at once', async () => {
  const adjust = (ids: string[], settings: object) =>
    server.call<Recording[]>('PATCH', '/recordings', {
      ids,
      adjust: { chainId: chain.id, steps: [{ id: 'trim', settings }] },
    });
  await adjust([recordings[0].id], { gainDb: 1 });
  const { body } = await adjust(
    recordings.map(({ id }) => id),
    { invertPolarity: true },
  );
  expect(body.map(({ adjustments }) => adjustments[chain.id][0].settings)).toEqual([
    { gainDb: 1, invertPolarity: true },
    { invertPolarity: true },
  ]);
});

it('delivers what is off target only where a person accepted it, and says why', async () => {
  const run = await ran(await added([{ measure: 'durationSeconds', max: 1 }]));
  expect(run.items.map(({ status }) => status)).toEqual(['off-target', 'off-target']);
  const path = `/runs/${run.id}/items/${run.items[0].id}/acceptance`;
  expect((await server.call('PUT', path, { reason: ' ' })).status).toBe(422);
  const accepted = await server.call<RunItem>('PUT', path, { reason: 'Agreed with the client.' });
  expect(accepted.body).toMatchObject({ status: 'off-target', accepted: { reason: 'Agreed with the client.' } });
  const zip = async () =>
    Buffer.from(await (await fetch(`${server.origin}/api/runs/${run.id}/package`)).arrayBuffer()).toString('latin1');
  const bag = await zip();
  expect(bag).toContain('data/one.wav');
  expect(bag).not.toContain('data/two.wav');
  expect(bag).toContain('Agreed with the client.');
  expect((await server.call('DELETE', path)).status).toBe(204);
  expect(await zip()).not.toContain('data/one.wav');
});

it('accepts nothing that is within or has no file', async () => {
  const run = await ran(await added([{ measure: 'durationSeconds', max: 100 }]));
  expect(
    (await server.call('PUT', `/runs/${run.id}/items/${run.items[0].id}/acceptance`, { reason: 'x' })).status,
  ).toBe(409);
});

it('tells what a chain does to the levels of a recording, line by line', async () => {
  await server.until<Recording>(`/recordings/${recordings[0].id}`, ({ status }) => status === 'ready');
  const ask = (steps: unknown[]) =>
    fetch(`${server.origin}/api/recordings/${recordings[0].id}/ledger`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ steps }),
    });
  const answer = await ask([
    { id: 'a', kind: 'gain', settings: { gainDb: -3 } },
    { id: 'b', kind: 'noise-reduction' },
  ]);
  expect(answer.headers.get('content-type')).toMatch(/x-ndjson/);
  const lines = (await answer.text())
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line) as LedgerLine);
  const last = lines.at(-1)!;
  if (last.type !== 'done') throw new Error(JSON.stringify(last));
  const [first, second] = last.ledger.rows;
  expect([first.id, second.id]).toEqual(['a', 'b']);
  expect(first.figures.rmsDbfs! - last.ledger.source.rmsDbfs!).toBeCloseTo(-3, 5);
  expect(second.figures.noiseFloorDbfs!).toBeLessThan(first.figures.noiseFloorDbfs! - 8);
  expect(last.reports[1].findings.noisePowers).toBeDefined();
  expect((await ask([{ kind: 'gain', settings: { gainDb: 900 } }])).status).toBe(422);
});

it('foretells who will be within and who will not, as the run then shows', async () => {
  const ids = recordings.map(({ id }) => id);
  const targetId = await added([
    { measure: 'integratedLufs', min: -17, max: -15, aim: -16 },
    { measure: 'noiseFloorDbfs', max: -75 },
  ]);
  const question = { titleId, recordingIds: ids, chainId: chain.id, targetId };
  const answer = await fetch(`${server.origin}/api/forecasts`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(question),
  });
  const lines = (await answer.text())
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line) as ForecastLine);
  expect(lines.map(({ type }) => type)).toEqual(['needs', 'recording', 'recording', 'done']);
  const [needs] = lines;
  // three seconds twice at 22.05 kHz, 24 bits, and three spools of floats on two threads
  const frames = 2 * 3 * 22050;
  expect(needs).toMatchObject({ diskBytes: frames * 3 + frames * 4 * 3, soundSeconds: 6, collisions: [] });
  const run = await ran(targetId);
  const told = lines.filter((line) => line.type === 'recording');
  run.items.forEach((item, i) => {
    expect(told[i].recordingId).toBe(item.recordingId);
    expect(told[i].within).toBe(item.status === 'within');
    const by = (limits: RunItem['limits']) => limits.find(({ measure }) => measure === 'noiseFloorDbfs')!.by!;
    expect(Math.abs(by(told[i].limits) - by(item.limits))).toBeLessThan(0.5);
    expect(told[i].notes.join()).toMatch(/dB more noise reduction is missing/);
  });
});

it('rests where it is paused, and goes on; another is put before it', async () => {
  const targetId = await added([{ measure: 'durationSeconds', max: 100 }]);
  const start = async () =>
    (
      await server.call<Run>('POST', '/runs', {
        titleId,
        recordingIds: recordings.map(({ id }) => id),
        chainId: chain.id,
        targetId,
      })
    ).body;
  const run = await start();
  expect((await server.call<Run>('PATCH', `/runs/${run.id}`, { paused: true })).body.paused).toBe(true);
  // what was under way ends
  await server.until<Run>(`/runs/${run.id}`, ({ counts }) => counts.working === 0);
  const { counts } = (await server.call<Run>('GET', `/runs/${run.id}`)).body;
  const other = await start();
  await server.call('PATCH', `/runs/${other.id}`, { first: true });
  await server.until<Run>(`/runs/${other.id}`, ({ status }) => status === 'finished');
  expect((await server.call<Run>('GET', `/runs/${run.id}`)).body.counts).toEqual(counts);
  await server.call('PATCH', `/runs/${run.id}`, { paused: false });
  const ended = await server.until<Run>(`/runs/${run.id}`, ({ status }) => status === 'finished');
  expect(ended.counts.within).toBe(2);
});

it('S17: what was found in a recording is handed on to its next render, unless what it hangs on changed', async () => {
  const [one] = recordings;
  const steps = [{ id: 'level', kind: 'loudness-normalise', settings: { integratedLufs: -30 } }];
  const { id: chainId } = (await server.call<Chain>('POST', '/chains', { name: 'To a level', steps })).body;
  const targetId = await added([{ measure: 'truePeakDbtp', max: 20 }]);
  const wanted = { titleId, recordingIds: [one.id], chainId, targetId };
  const { id } = (await server.call<Run>('POST', '/runs', wanted)).body;
  const finished = () => server.until<Run>(`/runs/${id}`, ({ status }) => status === 'finished');
  const level = async () => (await finished()).items[0].after!.integratedLufs!;
  expect(await level()).toBeCloseTo(-30, 0);
  // what is found is made false by 6 dB: a render that takes it over shows it
  const database = new Libsql(join(server.dataFolder, 'tonos.sqlite'));
  const read = database.prepare('select findings from run_item where runId = ?');
  const write = database.prepare('update run_item set findings = ? where runId = ?');
  const falsify = () => {
    const reports = JSON.parse((read.get(id) as { findings: string }).findings);
    for (const { findings } of reports) if ('heardDb' in findings) findings.heardDb += 6;
    write.run(JSON.stringify(reports), id);
  };
  falsify();
  await server.call('POST', `/runs/${id}/retry`, { itemIds: [(await finished()).items[0].id] });
  expect(await level()).toBeCloseTo(-36, 0);
  await server.call('PATCH', `/recordings/${one.id}`, {
    marks: [{ id: 'a', name: 'a', startSeconds: 0, endSeconds: 1 }],
  });
  await server.call('POST', `/runs/${id}/retry`, { itemIds: [(await finished()).items[0].id] });
  expect(await level()).toBeCloseTo(-30, 0);
  database.close();
});
