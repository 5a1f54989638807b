import { expect, test } from '@playwright/test';
import { Tonos } from './tonos.ts';

let tonos: Tonos;
test.beforeAll(async () => {
  tonos = await Tonos.start({ demo: false });
});
test.afterAll(() => tonos.remove());

test('P23: a tab that was open over an upgrade says that a new version is there, and loads it', async ({ page }) => {
  await page.goto(`${tonos.origin}/titles`);
  await expect(page.getByRole('heading', { name: 'Titles' })).toBeVisible();
  // a part of the page that can't be had any more
  await page.route('**/assets/**', (route) => route.abort());
  await page.getByRole('link', { name: 'Targets' }).click();
  await expect(page.getByRole('heading', { name: 'This page failed' })).toBeVisible();
  await expect(page.getByRole('link', { name: 'Chains' })).toBeVisible();

  // the server gives another program now
  await page.route(`${tonos.origin}/`, async (route) => {
    const answer = await route.fetch();
    const body = (await answer.text()).replace(/assets\/index-[^"]+\.js/, 'assets/index-renewed.js');
    await route.fulfill({ response: answer, body });
  });
  await page.getByRole('link', { name: 'Runs' }).click();
  await expect(page.getByRole('heading', { name: 'A new version is there' })).toBeVisible();
  await page.unrouteAll();
  await expect(page.getByRole('heading', { name: 'Runs', exact: true })).toBeVisible();
});
