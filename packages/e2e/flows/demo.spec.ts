import { expect, test } from '@playwright/test';
import { expectAccessible } from './no-findings.ts';
import { Tonos } from './tonos.ts';

let tonos: Tonos;
test.beforeAll(async () => {
  tonos = await Tonos.start({ demo: true });
});
test.afterAll(() => tonos.remove());

test('opens on three titles, four chains and a run that finishes by itself', async ({ page }) => {
  await page.goto(`${tonos.origin}/titles`);
  await expect(page.getByRole('row', { name: /The Salt Road Almanac.* audiobook 6/ })).toBeVisible();
  await expect(page.getByRole('row', { name: /Night Shift at the Observatory podcast 5/ })).toBeVisible();
  await expect(page.getByRole('row', { name: /The Ferry House podcast 3/ })).toBeVisible();
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
  await page.goto(`${tonos.origin}/titles`);
  await page.getByRole('link', { name: 'The Salt Road Almanac', exact: true }).click();
  await expect(page.getByRole('row', { name: /05 What the tide keeps.*clipped/ })).toBeVisible();
  await expectAccessible(page);
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible();
  await expectAccessible(page);
  await page.keyboard.press('Escape');
  // every place, and what plays
  for (const place of ['Chains', 'Targets', 'Storage', 'Runs']) {
    await page.getByRole('link', { name: place, exact: true }).click();
    await expect(page.getByRole('heading', { name: place, level: 1 })).toBeVisible();
    await expectAccessible(page);
  }
  await page.getByRole('link', { name: 'The Salt Road Almanac' }).click();
  await expect(page.getByText('4 within', { exact: true })).toBeVisible({ timeout: 120_000 });
  await page.getByRole('button', { name: 'Play 01 The salt road.flac' }).click();
  await expect(page.getByRole('radiogroup', { name: 'Which to hear' })).toBeVisible();
  await expectAccessible(page);
  await page.goto(`${tonos.origin}/chains`);
  await page.getByRole('link', { name: 'Narration, close microphone' }).click();
  await page.getByRole('button', { name: /^Parametric EQ/ }).click();
  await expect(page.getByRole('slider', { name: 'Band 1', exact: true })).toBeVisible();
  await expectAccessible(page);
});

test('a recording can be looked at from the whole to single samples, and listened to from any place', async ({
  page,
}) => {
  await page.goto(`${tonos.origin}/titles`);
  await page.getByRole('link', { name: 'The Salt Road Almanac', exact: true }).click();
  await page.getByRole('link', { name: '05 What the tide keeps.flac' }).click();
  await expect(page.getByText(/Clipped, \d+\.\d samples a minute/)).toBeVisible();
  const wave = page.getByRole('img', { name: 'Wave' });
  /** How many pixels of a canvas hold ink. */
  const ink = (name: string) =>
    page.getByRole('img', { name }).evaluate((canvas: HTMLCanvasElement) => {
      const { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height);
      return data.filter((value, i) => i % 4 === 3 && value > 40).length;
    });
  await expect.poll(() => ink('Wave')).toBeGreaterThan(5000);
  await expect.poll(() => ink('Spectrogram')).toBeGreaterThan(5000);
  await expectAccessible(page);

  const box = (await wave.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await expect(page.getByText(/^at 0:09\.\d/)).toBeVisible();
  for (let i = 0; i < 60; i++) await page.mouse.wheel(0, -150);
  await expect(page.getByText(/^at 0:09\.\d{5}/)).toBeVisible();
  await page.keyboard.press('0');
  await expect(page.getByText('0:14', { exact: true })).toBeVisible();

  await page.mouse.click(box.x + box.width / 2, box.y + box.height / 2);
  await expect(page.getByRole('slider', { name: 'Position' })).toHaveValue(/^(9|10|11)\./);
  await page.keyboard.press(']');
  await expect(page.getByRole('heading', { name: '06 Nine bells.flac' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Pause', exact: true })).toBeVisible();
});

test('what is marked in a recording stays: a range, its name, room tone by hand, a box; each can be undone', async ({
  page,
}) => {
  await page.goto(`${tonos.origin}/titles`);
  await page.getByRole('link', { name: 'The Salt Road Almanac', exact: true }).click();
  await page.getByRole('link', { name: '02 A measure of light.flac' }).click();
  /** Chooses a stretch of a picture, by shares of its width and height. */
  const drag = async (name: string, from: [number, number], to: [number, number]) => {
    const box = (await page.getByRole('img', { name }).boundingBox())!;
    await page.mouse.move(box.x + from[0] * box.width, box.y + from[1] * box.height);
    await page.mouse.down();
    await page.mouse.move(box.x + to[0] * box.width, box.y + to[1] * box.height, { steps: 5 });
    await page.mouse.up();
  };
  await drag('Wave', [0.2, 0.5], [0.3, 0.5]);
  await page.keyboard.press('m');
  const table = page.getByRole('region', { name: 'Marks' });
  await table.getByRole('textbox', { name: 'Name of the mark' }).fill('Breath');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Breath', exact: true })).toBeVisible();

  await drag('Wave', [0.01, 0.5], [0.04, 0.5]);
  await page.getByRole('button', { name: 'Never room tone' }).click();
  await expect(table.getByText('never room tone')).toBeVisible();
  await drag('Spectrogram', [0.5, 0.2], [0.6, 0.5]);
  await page.keyboard.press('b');
  await expect(table.getByText(/^box .*, down by/)).toBeVisible();
  await expectAccessible(page);

  await page.reload();
  await expect(table.locator('tbody tr')).toHaveCount(3);
  await table.getByRole('button', { name: 'Remove Breath' }).click();
  await expect(table.locator('tbody tr')).toHaveCount(2);
  await page.keyboard.press('Control+z');
  await expect(table.locator('tbody tr')).toHaveCount(3);
});

test('many recordings are sorted, found, labelled together, moved to the trash and brought back', async ({ page }) => {
  await page.goto(`${tonos.origin}/titles`);
  await page.getByRole('link', { name: 'The Salt Road Almanac', exact: true }).click();
  await expect(page.getByRole('row', { name: /06 Nine bells\.flac.*\u2212/ })).toBeVisible();
  const names = () => page.locator('tbody td.name a').allInnerTexts();
  await page.getByRole('button', { name: 'Loudness LUFS' }).click();
  await expect.poll(async () => (await names())[0]).toBe('04 Two lanterns.flac');
  await page.getByRole('button', { name: 'Loudness LUFS' }).click();
  await expect.poll(async () => (await names())[0]).toBe('05 What the tide keeps.flac');
  await page.getByRole('button', { name: 'No.' }).click();

  await page.getByRole('checkbox', { name: 'Choose 02 A measure of light.flac' }).click();
  await page.getByRole('checkbox', { name: 'Choose 04 Two lanterns.flac' }).click({ modifiers: ['Shift'] });
  await expect(page.getByRole('button', { name: 'Run 3 chosen' })).toBeVisible();
  await page.getByRole('textbox', { name: 'speaker' }).fill('Ines');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('row', { name: /03 The weighing house\.flac.*Ines/ })).toBeVisible();
  await page.getByRole('checkbox', { name: 'Choose 01 The salt road.flac' }).click();
  await expect(page.getByPlaceholder('speaker varies')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Choose none' }).click();
  await page.keyboard.press('/');
  await page.keyboard.type('ines');
  // other tables of the page list its music and its running orders
  await expect(page.locator('table').first().locator('tbody td.name')).toHaveCount(3);

  await page.getByRole('checkbox', { name: 'Choose all' }).click();
  await page.getByRole('button', { name: 'Move to trash' }).click();
  await expect(page.getByText(/audiobook .* 3 recordings/)).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).first().click();
  await expect(page.getByText(/audiobook .* 6 recordings/)).toBeVisible();
});
