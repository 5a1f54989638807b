import { expect, test } from '@playwright/test';
import { expectAccessible } from './no-findings.ts';
import { Tonos } from './tonos.ts';

let tonos: Tonos;
test.beforeAll(async () => {
  tonos = await Tonos.start({ demo: true });
});
test.afterAll(() => tonos.remove());

test('opens on two titles, four chains and a run that finishes by itself', async ({ page }) => {
  await page.goto(tonos.origin);
  await expect(page.getByRole('row', { name: /The Salt Road Almanac audiobook 6/ })).toBeVisible();
  await expect(page.getByRole('row', { name: /Night Shift at the Observatory podcast 5/ })).toBeVisible();
  await expectAccessible(page);
  await page.goto(`${tonos.origin}/chains`);
  await expect(page.locator('tbody tr')).toHaveCount(4);
  await expectAccessible(page);
  await page.goto(`${tonos.origin}/targets`);
  await expect(page.locator('tbody tr')).toHaveCount(10);
  await expectAccessible(page);
  await page.goto(`${tonos.origin}/runs`);
  await page.getByRole('link', { name: 'The Salt Road Almanac' }).click();
  await expect(page.getByText('4 within', { exact: true })).toBeVisible({ timeout: 120_000 });
  await expect(page.getByText('Noise floor over by 3.2 dB')).toBeVisible();
  await page.getByRole('button', { name: '01 The salt road.flac', exact: true }).click();
  await expect(page.getByText(/Noise reduction room tone at 0:/)).toBeVisible();
  await expectAccessible(page);
});

test('is usable in the dark theme, and lists its keys', async ({ page }) => {
  await page.emulateMedia({ colorScheme: 'dark' });
  await page.goto(tonos.origin);
  await page.getByRole('link', { name: 'The Salt Road Almanac', exact: true }).click();
  await expect(page.getByRole('row', { name: /05 What the tide keeps.*clipped/ })).toBeVisible();
  await expectAccessible(page);
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible();
  await expectAccessible(page);
  await page.keyboard.press('Escape');
});
