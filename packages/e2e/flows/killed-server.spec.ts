import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { api, startedRun } from './api.ts';
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
  // a server that is killed twenty times hardly finishes an item meanwhile: all of the work is left for the end
  test.setTimeout(600_000);
  const call = api(tonos);
  const { runId, now } = await startedRun(tonos, 'The Long Way Home', ITEMS, 24);
  await page.goto(`${tonos.origin}/runs/${runId}`);

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

  await expect.poll(async () => (await now()).status, { timeout: 480_000 }).toBe('finished');
  const after = await now();
  expect(after.items.map(({ status }) => status)).toEqual(Array(ITEMS).fill('within'));
  for (const { id, output } of after.items) if (delivered.has(id)) expect(output!.sha256).toBe(delivered.get(id));
  for (const { id } of after.items) expect(await call('GET', `/runs/${runId}/items/${id}/attempts`)).toEqual([]);
  expect(await call('POST', '/storage/check')).toMatchObject({ faults: [], database: [] });
  for (const name of ['tmp', 'spool']) expect(await readdir(join(tonos.folder, 'data', name))).toEqual([]);
  // the page that was open all the while has caught up by itself
  await expect(page.getByText(`${ITEMS} within`, { exact: true })).toBeVisible();
});
