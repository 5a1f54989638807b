import { appendFile, copyFile, mkdir, readdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import type { Chain, Outing, Outings, Problem, RecipeFile, Recording, Run, Standing } from '@tonos/contract';
import { noise } from '@tonos/core/testing';
import { openAudio } from '@tonos/formats';
import { TestServer, wavFile } from '../testing/test-server.ts';

const RATE = 16000;

let server: TestServer;
let titleId: string;
beforeEach(async () => {
  server = await TestServer.start();
  titleId = (await server.call<{ id: string }>('POST', '/titles', { name: 'Weir', kind: 'podcast' })).body.id;
});
afterEach(() => server.remove());

const out = (name = '') => join(server.dataFolder, 'exchange/out', name);
const back = (name = '') => join(server.dataFolder, 'exchange/back', name);
const recordings = async () => (await server.call<Recording[]>('GET', `/titles/${titleId}/recordings`)).body;
const standing = async () => (await server.call<Standing[]>('GET', `/titles/${titleId}/standing`)).body;

async function uploaded(...names: string[]): Promise<Recording[]> {
  const form = new FormData();
  for (const [i, name] of names.entries()) form.append('files', await wavFile(name, noise(0.1, 2, RATE, i + 1), RATE));
  await server.call('POST', `/titles/${titleId}/recordings`, form);
  return server.until<Recording[]>(`/titles/${titleId}/recordings`, (all) =>
    all.every((one) => one.status === 'ready'),
  );
}

const chainOf = async (...gains: number[]) =>
  (
    await server.call<Chain>('POST', '/chains', {
      name: 'Gains',
      steps: gains.map((gainDb, i) => ({ id: `g${i}`, kind: 'gain', settings: { gainDb } })),
    })
  ).body;

/** Sends out, and waits until it lies there. */
async function sent(body: object): Promise<Outing> {
  const answer = await server.call<Outing[]>('POST', '/outside', body);
  expect(answer.status).toBe(201);
  return inState(answer.body[0].id, 'out');
}
const inState = async (id: string, ...states: string[]): Promise<Outing> => {
  const { outings } = await server.until<Outings>('/outside', (all) =>
    all.outings.some((one) => one.id === id && states.includes(one.state)),
  );
  return outings.find((one) => one.id === id)!;
};

async function samplesOf(path: string): Promise<Float32Array> {
  const audio = await openAudio(path, 'out');
  const all: number[] = [];
  for await (const block of audio.blocks()) all.push(...block[0]);
  await audio.close();
  return Float32Array.from(all);
}

const written = async (name: string, samples: Float32Array, rate = RATE) =>
  writeFile(back(name), Buffer.from(await (await wavFile(name, samples, rate)).arrayBuffer()));

/** Starts a run and answers it finished. */
async function run(chain: Chain, recordingIds: string[]): Promise<Run> {
  const targets = (await server.call<{ id: string; name: string }[]>('GET', '/targets')).body;
  const { body } = await server.call<Run>('POST', '/runs', {
    titleId,
    recordingIds,
    chainId: chain.id,
    targetId: targets[0].id,
  });
  return server.until<Run>(`/runs/${body.id}`, ({ status }) => status === 'finished');
}
const recipeOf = async ({ id, items }: Run) =>
  (await server.call<RecipeFile>('GET', `/runs/${id}/items/${items[0].id}/recipe`)).body;

it('goes out as it came, and comes back as a take in its place, with what was marked in it', async () => {
  const [recording] = await uploaded('Cough.wav');
  await server.call('PATCH', `/recordings/${recording.id}`, {
    marks: [{ id: 'm', name: 'Here', startSeconds: 1, endSeconds: 1.5 }],
  });
  const outing = await sent({ recordingIds: [recording.id] });
  expect(outing).toMatchObject({
    state: 'out',
    chainId: null,
    seconds: 2,
    sampleRateHz: RATE,
    channels: 1,
    laidIn: false,
  });
  const about = JSON.parse(await readFile(out(outing.fileName.replace('.wav', '.json')), 'utf8'));
  expect(about).toMatchObject({
    format: 'tonos.outside/1',
    title: 'Weir',
    place: 'before the chain',
    frames: 2 * RATE,
    back: back(outing.fileName),
  });
  const samples = await samplesOf(out(outing.fileName));
  await written(
    outing.fileName,
    samples.map((x) => x / 2),
  );
  expect(await inState(outing.id, 'back')).toMatchObject({ laidIn: true, note: '' });
  const [take] = await recordings();
  expect(take).toMatchObject({ takeOf: recording.id, name: 'Cough (from outside).wav', marks: [{ name: 'Here' }] });
  // and out again by one act
  const { body } = await server.call<Outing>('POST', `/outside/${outing.id}/take-out`);
  expect(body.laidIn).toBe(false);
  expect((await recordings())[0].id).toBe(recording.id);
  expect((await server.call<Problem>('POST', `/outside/${outing.id}/take-out`)).status).toBe(409);
});

it('goes out behind a step, and what came back is used by the steps behind it, for that recording alone', async () => {
  const all = await uploaded('One.wav', 'Two.wav');
  const chain = await chainOf(-6, -2, 3);
  const outing = await sent({ recordingIds: [all[0].id], chainId: chain.id, stepId: 'g1' });
  expect(outing).toMatchObject({ stepTitle: 'Gain', chainName: 'Gains' });
  const source = noise(0.1, 2, RATE, 1);
  const samples = await samplesOf(out(outing.fileName));
  // -8 dB, over what 16 bits made of the source
  expect(samples[1000] / source[1000]).toBeCloseTo(10 ** (-8 / 20), 2);
  const before = await run(chain, [all[0].id]);
  expect((await standing())[0].outdatedBy).toEqual([]);
  const other = noise(0.05, 2, RATE, 77);
  await written(outing.fileName, other);
  await inState(outing.id, 'back');
  expect((await recordings()).map(({ frozen }) => Object.keys(frozen))).toEqual([[chain.id], []]);
  expect((await standing())[0].outdatedBy).toEqual(['outside']);
  const [target] = (await server.call<{ id: string }[]>('GET', '/targets')).body;
  const foretold = await fetch(`${server.origin}/api/forecasts`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ titleId, recordingIds: [all[0].id], chainId: chain.id, targetId: target.id }),
  });
  expect(await foretold.text()).toMatch(/Sound from outside stands for its first steps/);
  const after = await run(chain, [all[0].id]);
  const recipe = await recipeOf(after);
  expect(recipe.frozen).toMatchObject({ stepId: 'g1', name: outing.fileName });
  // only the last step ran, over other sound
  expect(after.items[0].findings!.map(({ id }) => id)).toEqual(['g2', 'finish']);
  expect(after.items[0].after!.samplePeakDbfs).not.toBeCloseTo(before.items[0].after!.samplePeakDbfs!, 3);
  // the same twice is the same once
  await copyFile(back(outing.fileName), back('.copy'));
  await rename(back('.copy'), back(outing.fileName));
  await wait(1500);
  expect((await standing())[0].outdatedBy).toEqual([]);
  // an earlier step is changed: what came back is older
  const steps = chain.steps.map((step) => (step.id === 'g0' ? { ...step, settings: { gainDb: -7 } } : step));
  expect((await inState(outing.id, 'back')).isOlder).toBe(false);
  await server.call('POST', `/chains/${chain.id}/revisions`, { steps, note: '' });
  expect((await inState(outing.id, 'back')).isOlder).toBe(true);
  await server.call('POST', `/outside/${outing.id}/take-out`);
  expect((await recordings())[0].frozen).toEqual({});
});

it('moves what was marked along with the time of what came back', async () => {
  const [recording] = await uploaded('Long.wav');
  await server.call('PATCH', `/recordings/${recording.id}`, {
    marks: [{ id: 'c', name: 'Second', startSeconds: 1.5, endSeconds: 1.5, chapter: true }],
    cuts: [{ id: 'x', kind: 'take-out', on: true, startSeconds: 0.5, endSeconds: 1 }],
  });
  const chain = await chainOf(-3);
  const outing = await sent({ recordingIds: [recording.id], chainId: chain.id, stepId: 'g0' });
  expect(outing.seconds).toBeCloseTo(1.5, 3);
  const samples = await samplesOf(out(outing.fileName));
  await written(outing.fileName, samples.subarray(0, 1.25 * RATE));
  expect((await inState(outing.id, 'back')).note).toBe('\u22120.250 s in length');
  const done = await run(chain, [recording.id]);
  const { timeMap } = await recipeOf(done);
  // 1.5 s of the recording lie at 1 s, and the map ends where what came back does
  expect(timeMap!.at(-1)![1]).toBeCloseTo(1.25, 3);
  expect(done.items[0].after!.durationSeconds).toBeCloseTo(1.25, 2);
});

it('brings another rate to its own, says what is other, and refuses silence and text until they are written again', async () => {
  const [recording] = await uploaded('Rate.wav');
  const chain = await chainOf(-3, 1);
  const outing = await sent({ recordingIds: [recording.id], chainId: chain.id, stepId: 'g0' });
  await writeFile(back(outing.fileName), 'these are my notes');
  expect(await inState(outing.id, 'refused')).toMatchObject({
    note: expect.stringMatching(/^it is no sound file/),
    laidIn: false,
  });
  await written(outing.fileName, new Float32Array(2 * RATE));
  const { outings } = await server.until<Outings>('/outside', (all) => /silence/.test(all.outings[0].note));
  expect(outings[0].state).toBe('refused');
  await written(outing.fileName, noise(0.1, 2, 22050, 9), 22050);
  expect(await inState(outing.id, 'back')).toMatchObject({
    note: 'came at 22050 Hz, brought to 16000 Hz',
    laidIn: true,
  });
  expect((await run(chain, [recording.id])).items[0].error).toBeNull();
});

it('waits for one that is written slowly, says so, and lays it in soon after its last byte', async () => {
  const [recording] = await uploaded('Slow.wav');
  const outing = await sent({ recordingIds: [recording.id] });
  const bytes = Buffer.from(await (await wavFile('x', noise(0.1, 2, RATE, 5), RATE)).arrayBuffer());
  const third = Math.ceil(bytes.length / 3);
  await writeFile(back(outing.fileName), bytes.subarray(0, third));
  await wait(1800);
  expect((await inState(outing.id, 'coming')).state).toBe('coming');
  await appendFile(back(outing.fileName), bytes.subarray(third, 2 * third));
  await wait(1800);
  await inState(outing.id, 'coming');
  await appendFile(back(outing.fileName), bytes.subarray(2 * third));
  const ended = performance.now();
  await inState(outing.id, 'back');
  expect(performance.now() - ended).toBeLessThan(20_000); // 2 s are measured by the bench
});

it('names strangers, makes a folder anew that is gone, and goes on after another start', async () => {
  const [recording] = await uploaded('Gone.wav');
  const outing = await sent({ recordingIds: [recording.id] });
  await writeFile(back('Some other.wav'), 'x');
  await server.until<Outings>('/outside', ({ strangers }) => strangers.includes('Some other.wav'));
  await server.close();
  await rm(join(server.dataFolder, 'exchange'), { recursive: true });
  await server.open();
  await server.until<Outings>('/outside', ({ folder, strangers }) => folder.trouble === null && strangers.length === 0);
  await mkdir(back(), { recursive: true });
  await written(outing.fileName, noise(0.1, 2, RATE, 3));
  expect((await inState(outing.id, 'back')).laidIn).toBe(true);
});

it('takes a file that is handed in, gives out the one that went, and waits for neither once it is forgotten', async () => {
  const [recording] = await uploaded('By hand.wav');
  const outing = await sent({ recordingIds: [recording.id] });
  const file = await fetch(`${server.origin}/api/outside/${outing.id}/file`);
  const bytes = Buffer.from(await file.arrayBuffer());
  bytes.fill(0, bytes.length - 4000);
  const put = await fetch(`${server.origin}/api/outside/${outing.id}/back`, {
    method: 'PUT',
    body: bytes,
    headers: { 'content-type': 'audio/wav' },
  });
  expect(put.status).toBe(200);
  await inState(outing.id, 'back');
  expect((await server.call('DELETE', `/outside/${outing.id}`)).status).toBe(204);
  expect([(await server.call<Outings>('GET', '/outside')).body.outings, await readdir(out())]).toEqual([[], []]);
  expect((await recordings())[0].name).toBe('By hand (from outside).wav');
});

it('sends nothing out of what can\u2019t be: an unknown step, an unknown recording, one that is measured still', async () => {
  const [recording] = await uploaded('No.wav');
  const chain = await chainOf(1);
  const ask = async (body: object) => (await server.call<Problem>('POST', '/outside', body)).status;
  expect(await ask({ recordingIds: ['nobody'] })).toBe(404);
  expect(await ask({ recordingIds: [recording.id], chainId: chain.id, stepId: 'none' })).toBe(404);
  expect(await ask({ recordingIds: [recording.id], chainId: chain.id })).toBe(422);
  expect((await server.call<Outings>('GET', '/outside')).body.outings).toEqual([]);
});
