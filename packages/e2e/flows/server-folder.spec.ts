import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { expectAccessible } from './no-findings.ts';
import { Tonos } from './tonos.ts';

let tonos: Tonos;
test.beforeAll(async () => {
  tonos = await Tonos.start({ demo: false, inbox: true });
  await mkdir(join(tonos.folder, 'inbox', 'Monday'), { recursive: true });
  for (const name of ['2 Tide.wav', '10 Harbour.wav']) await tonos.voice(join('inbox', 'Monday', name), 3, name.length);
});
test.afterAll(() => tonos.remove());

test('a folder on the server comes in, in the order of its numbers, and the order can be set', async ({ page }) => {
  await page.goto(`${tonos.origin}/titles`);
  await page.getByRole('button', { name: 'New title' }).click();
  await page.getByLabel('Name').fill('Low water');
  await page.getByRole('button', { name: 'Make title' }).click();
  await page.getByRole('button', { name: 'More for this title' }).click();
  await page.getByRole('menuitem', { name: 'Bring in from a server folder' }).click();
  await page.getByRole('button', { name: 'Monday/' }).click();
  await page.getByRole('checkbox', { name: 'All 2 files' }).click();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Bring in 2' }).click();
  const names = page.locator('tbody td.name a');
  await expect(names).toHaveText(['2 Tide.wav', '10 Harbour.wav']);

  const name = page.locator('thead').getByRole('button', { name: 'Recording' });
  await name.click();
  await name.click();
  await expect(names).toHaveText(['10 Harbour.wav', '2 Tide.wav']);
  await page.getByRole('button', { name: 'Set order' }).click();
  await page.getByRole('menuitem', { name: 'As the table is sorted now' }).click();
  await page.reload();
  await expect(names).toHaveText(['10 Harbour.wav', '2 Tide.wav']);

  // by keys alone: from row to row, play, choose
  await expect(page.getByRole('button', { name: 'Play 2 Tide.wav' })).toBeVisible();
  await page.locator('tbody tr').first().focus();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Pause 2 Tide.wav' })).toBeVisible();
  // under the page's own content policy the engine runs: its meters have figures
  await expect(page.getByTitle('Loudness of the last 400 ms, LUFS').locator('dd')).toHaveText(/\d/);
  await page.keyboard.press('x');
  await expect(page.getByRole('button', { name: 'Run 1 chosen' })).toBeVisible();
});
