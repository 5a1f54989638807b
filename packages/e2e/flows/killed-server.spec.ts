import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { Tonos } from './tonos.ts';

let tonos: Tonos;
test.beforeAll(async () => {
  tonos = await Tonos.start({ demo: false });
});
test.afterAll(() => tonos.remove());

async function call<T>(method: string, path: string, body?: unknown): Promise<T> {
  const form = body instanceof FormData;
  const response = await fetch(`${tonos.origin}/api${path}`, {
    method,
    ...(body === undefined
      ? {}
      : form
        ? { body }
        : { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } }),
  });
  expect(response.ok).toBe(true);
  return (await response.json()) as T;
}

interface Named {
  id: string;
  name: string;
}
interface Run {
  id: string;
  status: string;
  counts: Record<string, number>;
  items: { status: string; output: { sha256: string } | null }[];
}

test('a run goes on where it was after the server was killed, with no item lost and nothing half-written left', async ({
  page,
}) => {
  const form = new FormData();
  for (const seed of [1, 2, 3, 4]) {
    form.append('files', new File([await readFile(await tonos.voice(`${seed}.wav`, 15, seed))], `${seed}.wav`));
  }
  const { id: titleId } = await call<Named>('POST', '/titles', { name: 'The Long Way Home', kind: 'audiobook' });
  const recordings = await call<Named[]>('POST', `/titles/${titleId}/recordings`, form);
  const { id: chainId } = await call<Named>('POST', '/chains', { name: 'Quiet', steps: [{ kind: 'noise-reduction' }] });
  const targets = await call<Named[]>('GET', '/targets');
  const targetId = targets.find(({ name }) => name === 'Podcast, mono')!.id;
  const run = await call<Run>('POST', '/runs', {
    titleId,
    recordingIds: recordings.map(({ id }) => id),
    chainId,
    targetId,
  });
  await page.goto(`${tonos.origin}/runs/${run.id}`);

  await expect.poll(async () => (await call<Run>('GET', `/runs/${run.id}`)).counts.within).toBeGreaterThan(0);
  await expect.poll(async () => (await call<Run>('GET', `/runs/${run.id}`)).counts.working).toBeGreaterThan(0);
  const before = await call<Run>('GET', `/runs/${run.id}`);
  await tonos.close('SIGKILL');
  await tonos.open();

  await expect
    .poll(async () => (await call<Run>('GET', `/runs/${run.id}`)).status, { timeout: 120_000 })
    .toBe('finished');
  const after = await call<Run>('GET', `/runs/${run.id}`);
  expect(after.items.map(({ status }) => status)).toEqual(['within', 'within', 'within', 'within']);
  before.items.forEach((item, i) => {
    if (item.status === 'within') expect(after.items[i].output!.sha256).toBe(item.output!.sha256);
  });
  for (const name of ['tmp', 'spool']) expect(await readdir(join(tonos.folder, 'data', name))).toEqual([]);
  // the page that was open all the while has caught up by itself
  await expect(page.getByText('4 within', { exact: true })).toBeVisible();
});
