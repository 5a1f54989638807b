import { readFile } from 'node:fs/promises';
import { expect, test } from '@playwright/test';
import { Tonos } from './tonos.ts';

let tonos: Tonos;
test.beforeAll(async () => {
  tonos = await Tonos.start({ demo: false, env: { TONOS_LOCAL_THREADS: '0' } });
});
test.afterAll(() => tonos.remove());

test('a machine is added, works along, drains, is taken back in, ends and is forgotten', async ({ page, request }) => {
  await page.goto(`${tonos.origin}/runs`);
  await page.getByRole('link', { name: 'Machines' }).click();
  await expect(page.getByText('This server works by itself')).toBeVisible();
  await expect(page.getByRole('row', { name: /This server/ })).toContainText('leaves work to others');

  await page.getByRole('button', { name: 'Add a machine' }).click();
  await page.getByRole('textbox', { name: 'Name of its token' }).fill('basement');
  await page.getByRole('button', { name: 'Make a token' }).click();
  const token = await page.getByRole('textbox', { name: 'Worker token' }).inputValue();
  await expect(page.getByText(`TONOS_WORKER_TOKEN=${token}`)).toBeVisible();
  await page.getByRole('button', { name: 'Done' }).click();
  await expect(page.getByRole('region', { name: 'Worker tokens' }).getByText('basement')).toBeVisible();

  const worker = tonos.worker('North room', token);
  const row = page.getByRole('row', { name: /North room/ });
  await expect(row).toContainText('ready');

  // what comes in is measured there
  const { id } = await (
    await request.post(`${tonos.origin}/api/titles`, { data: { name: 'Sent', kind: 'podcast' } })
  ).json();
  const buffer = await readFile(await tonos.voice('sent.wav', 4, 5));
  const files = { name: 'sent.wav', mimeType: 'audio/wav', buffer };
  const [recording] = await (
    await request.post(`${tonos.origin}/api/titles/${id}/recordings`, { multipart: { files } })
  ).json();
  const status = async () =>
    (await (await request.get(`${tonos.origin}/api/recordings/${recording.id}`)).json()).status;
  await expect.poll(status).toBe('ready');
  await expect(row).toContainText('real time');

  await row.getByRole('button', { name: 'Drain' }).click();
  await expect(row).toContainText('draining');
  await row.getByRole('button', { name: 'Take back in' }).click();
  await expect(row).toContainText('ready');
  worker.kill('SIGTERM');
  await expect(row).toContainText('lost');
  await expect(row).toContainText('It was ended there.');
  await row.getByRole('button', { name: 'Forget' }).click();
  await expect(row).toHaveCount(0);

  await page.getByRole('region', { name: 'Worker tokens' }).getByRole('button', { name: 'End' }).click();
  await expect(page.getByRole('region', { name: 'Worker tokens' })).toHaveCount(0);
});
