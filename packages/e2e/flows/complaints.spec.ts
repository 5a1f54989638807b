import { expect, test } from '@playwright/test';
import { expectAccessible } from './no-findings.ts';
import { Tonos } from './tonos.ts';

let tonos: Tonos;
test.beforeAll(async () => {
  tonos = await Tonos.start({ demo: true });
});
test.afterAll(() => tonos.remove());

test('what is wrong stands in the title, and a key goes from one place to the next', async ({ page }) => {
  await page.goto(`${tonos.origin}/titles`);
  await page.getByRole('link', { name: 'Night Shift at the Observatory', exact: true }).click();
  await expect(page.getByRole('row', { name: /1 Cold open.*mouth clicks/ })).toBeVisible({ timeout: 60_000 });
  await expect(page.getByRole('row', { name: /2 The guest.*one side only, digital silence/ })).toBeVisible();
  await page.getByRole('link', { name: '1 Cold open.flac' }).click();
  const complaints = page.getByRole('region', { name: 'Complaints' });
  await expect(complaints.getByText(/Mouth clicks, .* a minute/)).toBeVisible();
  await expect(complaints.getByText(/declick helps/)).toBeVisible();
  await expectAccessible(page);
  await page.keyboard.press('n');
  await expect(complaints.getByText(/^1 of 3: 0:00\.2/)).toBeVisible();
  await expect(page.getByRole('region', { name: 'Chosen stretch' })).toBeVisible();
  await page.keyboard.press('n');
  await expect(complaints.getByText(/^2 of 3/)).toBeVisible();
  await page.keyboard.press('p');
  await expect(complaints.getByText(/^1 of 3/)).toBeVisible();
});

test('a chain is proposed with its reasons, and opened to be changed', async ({ page }) => {
  await page.goto(`${tonos.origin}/titles`);
  await page.getByRole('link', { name: 'Night Shift at the Observatory', exact: true }).click();
  await expect(page.getByRole('row', { name: /3 On the roof.*rumble/ })).toBeVisible({ timeout: 60_000 });
  await page.getByRole('button', { name: 'Propose a chain' }).click();
  const steps = page.getByRole('list', { name: 'Proposed steps' });
  await expect(steps.getByText(/Rumble .* dB under the voice, in 1 of 5/)).toBeVisible();
  await expectAccessible(page);
  const titles = await steps.locator('strong').allInnerTexts();
  expect(titles.indexOf('Noise reduction')).toBeLessThan(titles.indexOf('Leveller'));
  expect(titles.indexOf('Leveller')).toBeLessThan(titles.indexOf('Limiter'));
  await page.getByRole('button', { name: 'Open it as a chain' }).click();
  await expect(page.getByRole('heading', { name: 'Proposed for Night Shift at the Observatory' })).toBeVisible();
  await expect(page.getByRole('button', { name: /^Noise reduction/ }).first()).toBeVisible();
  // it is looked at with the title's first recording, and each step says why it is there
  await expect(page.getByText('1 Cold open.flac').first()).toBeVisible();
  await expect(page.getByText(/Rumble .* dB under the voice, in 1 of 5/)).toBeVisible();
  await page
    .getByRole('button', { name: /^Limiter/ })
    .first()
    .click();
  const note = page.getByRole('textbox', { name: 'Reason' });
  await note.fill('The producer wants it softer.');
  await note.press('Enter');
  await expect(page.getByRole('listitem').getByText('The producer wants it softer.')).toBeVisible();
  await page.keyboard.press('Escape');
});

test('one act brings all exceptions of a run inside', async ({ page }) => {
  await page.goto(`${tonos.origin}/runs`);
  await page.getByRole('link', { name: 'The Salt Road Almanac' }).first().click();
  await expect(page.getByText('4 within', { exact: true })).toBeVisible({ timeout: 120_000 });
  await page.getByRole('button', { name: 'Find remedies for 2' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByRole('progressbar')).toHaveCount(2);
  await expect(dialog.getByText(/dB more noise reduction/).first()).toBeVisible({ timeout: 120_000 });
  await expectAccessible(page);
  await dialog.getByRole('button', { name: 'Apply 2 and render again' }).click();
  await expect(page.getByText('6 within', { exact: true })).toBeVisible({ timeout: 120_000 });
});
