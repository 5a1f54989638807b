import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { api, type Named, type RunReply } from './api.ts';
import { Tonos } from './tonos.ts';

const ITEMS = 12;
const ROUNDS = 20;
/** A server is killed at a moment up to so long after it began to listen. */
const LONGEST_LIFE_MS = 1500;

let tonos: Tonos;
test.beforeAll(async () => {
  tonos = await Tonos.start({ demo: false });
});
test.afterAll(() => tonos.remove());

/** Moments that spread evenly and differ in every round: multiples of the golden ratio. */
const lifeMs = (round: number) => LONGEST_LIFE_MS * ((round * 0.6180339887) % 1);

test('a run goes on where it was after the server was killed twenty times, with no item lost, none done twice and nothing half-written left', async ({
  page,
}) => {
  const call = api(tonos);
  const form = new FormData();
  for (let seed = 1; seed <= ITEMS; seed++)
    form.append('files', new File([await readFile(await tonos.voice(`${seed}.wav`, 24, seed))], `${seed}.wav`));
  const { id: titleId } = await call<Named>('POST', '/titles', { name: 'The Long Way Home', kind: 'audiobook' });
  const recordings = await call<Named[]>('POST', `/titles/${titleId}/recordings`, form);
  const all = () => call<{ status: string }[]>('GET', `/titles/${titleId}/recordings`);
  await expect.poll(async () => (await all()).every(({ status }) => status === 'ready')).toBe(true);
  const { id: chainId } = await call<Named>('POST', '/chains', { name: 'Quiet', steps: [{ kind: 'noise-reduction' }] });
  const targetId = (await call<Named[]>('GET', '/targets')).find(({ name }) => name === 'Podcast, mono')!.id;
  const run = await call<RunReply>('POST', '/runs', {
    titleId,
    recordingIds: recordings.map(({ id }) => id),
    chainId,
    targetId,
  });
  const now = () => call<RunReply>('GET', `/runs/${run.id}`);
  await page.goto(`${tonos.origin}/runs/${run.id}`);

  /** What every item was delivered as, once it was. */
  const delivered = new Map<string, string>();
  let interrupted = 0;
  for (let round = 1; round <= ROUNDS; round++) {
    await new Promise((resolve) => setTimeout(resolve, lifeMs(round)));
    const { items, counts } = await now();
    expect(items).toHaveLength(ITEMS);
    for (const { id, output } of items) {
      if (delivered.has(id)) expect(output?.sha256).toBe(delivered.get(id));
      if (output) delivered.set(id, output.sha256);
    }
    if (counts.working) interrupted++;
    await tonos.close('SIGKILL');
    await tonos.open();
  }
  expect(interrupted).toBeGreaterThan(ROUNDS / 4);

  await expect.poll(async () => (await now()).status, { timeout: 120_000 }).toBe('finished');
  const after = await now();
  expect(after.items.map(({ status }) => status)).toEqual(Array(ITEMS).fill('within'));
  for (const { id, output } of after.items) if (delivered.has(id)) expect(output!.sha256).toBe(delivered.get(id));
  for (const { id } of after.items) expect(await call('GET', `/runs/${run.id}/items/${id}/attempts`)).toEqual([]);
  expect(await call('POST', '/storage/check')).toMatchObject({ faults: [], database: [] });
  for (const name of ['tmp', 'spool']) expect(await readdir(join(tonos.folder, 'data', name))).toEqual([]);
  // the page that was open all the while has caught up by itself
  await expect(page.getByText(`${ITEMS} within`, { exact: true })).toBeVisible();
});
