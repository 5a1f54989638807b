import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { png } from '@tonos/formats/testing';
import { api, type Named } from './api.ts';
import { expectAccessible } from './no-findings.ts';
import { Tonos } from './tonos.ts';

let tonos: Tonos;
test.beforeAll(async () => {
  tonos = await Tonos.start({ demo: false });
});
test.afterAll(() => tonos.remove());

test('a title gets a cover from a file, shows it, refuses what is none, and gives it up', async ({ page }) => {
  const call = api(tonos);
  const { id } = await call<Named>('POST', '/titles', { name: 'Harbour', kind: 'audiobook' });
  const picture = join(tonos.folder, 'cover.png');
  await writeFile(picture, png(48, 48));
  const text = join(tonos.folder, 'cover.jpg');
  await writeFile(text, 'no picture at all');
  const choose = async (open: () => Promise<void>, path: string) => {
    const [chooser] = await Promise.all([page.waitForEvent('filechooser'), open()]);
    await chooser.setFiles(path);
  };

  await page.goto(`${tonos.origin}/titles/${id}`);
  await choose(() => page.getByRole('button', { name: 'Add cover' }).click(), text);
  await expect(page.getByText('must be a JPEG or a PNG')).toBeVisible();
  await choose(() => page.getByRole('button', { name: 'Add cover' }).click(), picture);
  const cover = page.getByRole('button', { name: 'Cover of Harbour' });
  await expect(cover).toBeVisible();
  expect(
    await cover.locator('img').evaluate((img: HTMLImageElement) => img.decode().then(() => img.naturalWidth)),
  ).toBe(48);
  await expectAccessible(page);

  await cover.click();
  await expect(page.getByText('48 \u00d7 48, in every delivery but WAV')).toBeVisible();
  await page.getByRole('menuitem', { name: 'Take it away' }).click();
  await expect(page.getByRole('button', { name: 'Add cover' })).toBeVisible();
});
