import { setTimeout } from 'node:timers/promises';
import type { Chain, ItemRemedy, Recording, Run, Target, Title } from '@tonos/contract';
import { babble, mixed, noise } from '@tonos/core/testing';
import { TestServer, wavFile } from '../testing/test-server.ts';

let server: TestServer;
beforeAll(async () => {
  server = await TestServer.start();
});
afterAll(() => server.remove());

const RATE = 22050;
const take = (noiseLevel: number) => mixed(babble(12, RATE, 5), noise(noiseLevel, 12, RATE)).map((x) => 0.2 * x);

async function run(steps: object[], noiseLevels: number[]): Promise<Run> {
  const { id: titleId } = (await server.call<Title>('POST', '/titles', { name: 'Weir', kind: 'audiobook' })).body;
  const form = new FormData();
  for (const [i, level] of noiseLevels.entries())
    form.append('files', await wavFile(`take ${i}.wav`, take(level), RATE));
  const recordings = (await server.call<Recording[]>('POST', `/titles/${titleId}/recordings`, form)).body;
  const chain = (await server.call<Chain>('POST', '/chains', { name: 'For remedies', steps })).body;
  const targets = (await server.call<Target[]>('GET', '/targets')).body;
  const target = targets.find(({ name }) => name === 'Audiobook, loudness')!;
  const recordingIds = recordings.map(({ id }) => id);
  const { id } = (
    await server.call<Run>('POST', '/runs', { titleId, recordingIds, chainId: chain.id, targetId: target.id })
  ).body;
  return finished(id);
}
const finished = (id: string) => server.until<Run>(`/runs/${id}`, ({ status }) => status === 'finished');
const remedies = (id: string, body: object = {}) => server.call<ItemRemedy[]>('POST', `/runs/${id}/remedies`, body);

it('brings a night\u2019s exceptions inside in one act, as foretold, and keeps earlier attempts', async () => {
  const before = await run(
    [{ id: 'nr', kind: 'noise-reduction', settings: { reductionDb: 4 } }],
    [0.00005, 0.003, 0.005],
  );
  const off = before.items.filter(({ status }) => status === 'off-target');
  expect(off).toHaveLength(2);
  const { body: found } = await remedies(before.id);
  expect(found.map(({ itemId }) => itemId)).toEqual(off.map(({ id }) => id));
  for (const { adjustments, forecast, sentence } of found) {
    expect(adjustments).toHaveLength(1);
    expect(forecast.verdict).toBe('within');
    expect(sentence).toMatch(/dB more noise reduction; speech changes by/);
  }
  // looking changes nothing
  expect((await server.call<Run>('GET', `/runs/${before.id}`)).body.items.map(({ status }) => status)).toEqual(
    before.items.map(({ status }) => status),
  );
  // what was found is applied as it was said, though many ask for it, one in the midst of another's act
  const itemIds = found.map(({ itemId }) => itemId);
  const acts = await Promise.all(
    Array.from({ length: 24 }, async (_, i) => {
      await setTimeout(i);
      return remedies(before.id, { itemIds, apply: true });
    }),
  );
  for (const { status, body } of acts) if (status === 200) expect(body).toEqual(found);
  expect(acts.some(({ status }) => status === 200)).toBe(true);
  const after = await finished(before.id);
  expect(after.items.map(({ status }) => status)).toEqual(['within', 'within', 'within']);
  for (const { itemId, forecast } of found) {
    const item = after.items.find(({ id }) => id === itemId)!;
    for (const { measure, value } of forecast.limits)
      expect(Math.abs(item.limits.find((one) => one.measure === measure)!.value! - value!)).toBeLessThan(1);
    const { body: attempts } = await server.call<unknown[]>('GET', `/runs/${after.id}/items/${itemId}/attempts`);
    expect(attempts).toHaveLength(1);
  }
});

it('says why nothing helps, and names no remedy where none is', async () => {
  const { id, items } = await run([{ id: 'trim', kind: 'gain', settings: {} }], [0.01]);
  const [one] = (await remedies(id)).body;
  expect(one).toMatchObject({
    itemId: items[0].id,
    adjustments: [],
    forecast: { verdict: 'off-target', limits: items[0].limits },
  });
  expect(one.sentence).toMatch(/no noise reduction: add one/);
  expect((await remedies(id, { itemIds: ['nobody'] })).status).toBe(404);
  expect((await remedies('nothing')).status).toBe(404);
});
