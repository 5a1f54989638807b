import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { expect, type Page, test } from '@playwright/test';
import type { Recording, Today, TrashEntry } from '@tonos/contract';
import { expectAccessible } from './no-findings.ts';
import { Tonos } from './tonos.ts';

let tonos: Tonos;
test.beforeAll(async () => {
  tonos = await Tonos.start({ demo: true });
});
test.afterAll(() => tonos.remove());

const read = async <T>(path: string): Promise<T> => (await fetch(`${tonos.origin}/api${path}`)).json() as Promise<T>;
const titleId = async (name: string) =>
  (await read<{ id: string; name: string }[]>('/titles')).find((title) => title.name === name)!.id;
const row = (page: Page, name: RegExp) => page.getByRole('row', { name });

test('today names what waits for somebody, leads to its act, and is quiet when all is settled', async ({ page }) => {
  await page.goto(tonos.origin);
  await expect(page.getByRole('heading', { name: 'Today' })).toBeVisible();
  await expect(page.getByRole('region', { name: 'To settle' })).toBeVisible({ timeout: 120_000 });
  await expectAccessible(page);
  await expect.poll(async () => (await read<Today>('/today')).runs.length, { timeout: 120_000 }).toBe(0);
  const { items } = await read<Today>('/today');
  expect(items.length).toBeGreaterThan(0);
  for (const { name } of items) await expect(row(page, new RegExp(name))).toBeVisible();
  // by keys alone: to the first one's board, where the exceptions stand
  await page.getByRole('link', { name: `To the board: ${items[0].name}` }).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('radio', { name: 'Exceptions' })).toBeChecked();
  await expect(page.locator('tr[data-status]')).toHaveCount(items.length);
  for (const { runId, itemId } of items)
    await page.request.put(`${tonos.origin}/api/runs/${runId}/items/${itemId}/acceptance`, {
      data: { reason: 'As the publisher wishes' },
    });
  // P21: who switches the single keys off is left alone by them
  await page.getByRole('button', { name: 'Keys' }).click();
  await page.getByRole('switch', { name: 'Keys that are one' }).click();
  await page.keyboard.press('Escape');
  await page.keyboard.press('?');
  await page.keyboard.press('g');
  await page.keyboard.press('c');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await expect(page).toHaveURL(/\/runs\//);
  await page.getByRole('button', { name: 'Keys' }).click();
  await page.getByRole('switch', { name: 'Keys that are one' }).click();
  await page.keyboard.press('Escape');
  await page.keyboard.press('g');
  await page.keyboard.press('d');
  await expect(page.getByText('Nothing waits for you')).toBeVisible();
  await expectAccessible(page);
});

test('a title is named, told of, run again where it is out of date, and archived', async ({ page }) => {
  const id = await titleId('The Salt Road Almanac');
  await page.goto(`${tonos.origin}/titles/${id}`);
  await expect(page.getByText(/Delivered: 4 within, 2 accepted/)).toBeVisible();
  // a row by keys: its own name, with the file's under it
  await page.locator('tbody tr[tabindex]').first().focus();
  await page.keyboard.press('e');
  await page.keyboard.press('Control+a');
  await page.keyboard.type('Prologue');
  await page.keyboard.press('Enter');
  await expect(row(page, /Prologue 01 The salt road\.flac/)).toBeVisible();
  // another place marked: what was delivered is not what would be
  const [recording] = await read<Recording[]>(`/titles/${id}/recordings`);
  await page.request.put(`${tonos.origin}/api/recordings/${recording.id}/marks/here`, {
    data: { name: 'Here', startSeconds: 1, endSeconds: 1 },
  });
  await expect(row(page, /Prologue.*out of date/)).toBeVisible();
  await page.getByRole('button', { name: 'Run what is out of date' }).click();
  await expect(page.getByRole('dialog', { name: 'Run 1 recording' })).toBeVisible();
  await page.keyboard.press('Escape');

  await page.getByRole('button', { name: 'More for this title' }).click();
  await page.getByRole('menuitem', { name: 'Name and details' }).click();
  await expectAccessible(page);
  await page.getByLabel('Year').fill('12');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText(/1000/)).toBeVisible();
  await page.getByLabel('Year').fill('2027');
  await page.getByRole('dialog').getByRole('textbox', { name: 'Name' }).fill('The Salt Road');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('heading', { name: 'The Salt Road', exact: true })).toBeVisible();
  expect((await read<{ details: { year: number } }>(`/titles/${id}`)).details.year).toBe(2027);

  await page.getByRole('button', { name: 'More for this title' }).click();
  await page.getByRole('menuitem', { name: 'Archive' }).click();
  await page.goto(`${tonos.origin}/titles`);
  await expect(page.getByRole('link', { name: 'Night Shift at the Observatory' })).toBeVisible();
  await expect(page.getByRole('link', { name: 'The Salt Road' })).toHaveCount(0);
  await page.getByRole('switch', { name: 'Archived ones' }).click();
  await expect(page.getByRole('link', { name: 'The Salt Road' })).toBeVisible();
});

test('P24: what is thrown away is a key away, comes back, and goes for good with its files', async ({ page }) => {
  const id = await titleId('Night Shift at the Observatory');
  const recordings = await read<Recording[]>(`/titles/${id}/recordings`);
  await page.goto(`${tonos.origin}/titles/${id}`);
  const drop = async () => {
    await page.getByRole('button', { name: 'More for this title' }).click();
    await page.getByRole('menuitem', { name: 'Move to the trash' }).click();
    await expect(page.getByRole('heading', { name: 'Titles' })).toBeVisible();
    await expect(page.getByRole('link', { name: 'Night Shift at the Observatory' })).toHaveCount(0);
  };
  await drop();
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('link', { name: 'Night Shift at the Observatory' }).click();
  await expect(row(page, /1 Cold open/)).toBeVisible();
  await drop();
  await page.getByRole('link', { name: 'Trash' }).click();
  await expectAccessible(page);
  const [entry] = await read<TrashEntry[]>('/trash');
  expect(entry).toMatchObject({ kind: 'title', contains: { recordings: recordings.length } });
  await row(page, /Night Shift/)
    .getByRole('button', { name: 'Remove for good' })
    .click();
  await expect(page.getByRole('dialog')).toContainText(`with ${recordings.length} recordings`); // music and sounds too
  await page.getByRole('button', { name: 'Keep' }).click();
  expect(await read<TrashEntry[]>('/trash')).toHaveLength(1);
  await page.getByRole('button', { name: 'Empty the trash' }).click();
  await page.getByRole('button', { name: 'Remove', exact: true }).click();
  await expect(page.getByText('Nothing lies here')).toBeVisible();
  for (const { sha256 } of recordings) expect(existsSync(join(tonos.dataSeenFromHere, 'blobs', sha256))).toBe(false);
});
