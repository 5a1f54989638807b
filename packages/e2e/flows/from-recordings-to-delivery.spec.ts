import { readFile } from 'node:fs/promises';
import { expect, type Page, test } from '@playwright/test';
import { expectAccessible } from './no-findings.ts';
import { Tonos } from './tonos.ts';

test.describe.configure({ mode: 'serial' });

let tonos: Tonos;
test.beforeAll(async () => {
  tonos = await Tonos.start({ demo: false });
});
test.afterAll(() => tonos.remove());

test('from files dropped on a new title to delivered ones, over a restart', async ({ page }) => {
  const voices = [
    await tonos.voice('01 First.wav', 8, 1),
    await tonos.voice('02 Second.wav', 8, 2),
    await tonos.voice('03 Third.wav', 8, 3),
  ];
  const problems: string[] = [];
  page.on('pageerror', (error) => problems.push(error.message));

  await page.goto(`${tonos.origin}/titles`);
  await expect(page.getByText('No title yet')).toBeVisible();
  await page.getByRole('button', { name: 'New title' }).click();
  await page.getByLabel('Name').fill('The Harbour Clock');
  await page.getByRole('button', { name: 'Make title' }).click();
  await expect(page.getByRole('heading', { name: 'The Harbour Clock' })).toBeVisible();

  const notes = { name: 'notes.wav', mimeType: 'audio/wav', buffer: Buffer.from('this is no sound at all') };
  await page.locator('input[type=file]').first().setInputFiles(voices);
  await expect(page.getByRole('row', { name: /03 Third\.wav.*8/ })).toBeVisible();
  await expect(page.getByRole('row', { name: /01 First\.wav.* 0:08 \u2212\d\d\.\d/ })).toBeVisible();
  await page.locator('input[type=file]').first().setInputFiles(notes);
  await expect(page.getByText(/notes\.wav is no sound file/)).toBeVisible();
  await expectAccessible(page);

  // a chain: add by typing, change a setting, move, switch off, undo, keep
  await page.keyboard.press('g');
  await page.keyboard.press('c');
  await page.getByRole('button', { name: 'New chain' }).click();
  await page.keyboard.type('New chain'); // P27: what is typed next is its name
  await page.keyboard.press('Enter');
  await expect(page.getByText('No step yet')).toBeVisible();
  const add = page.getByRole('combobox', { name: 'Add a step' });
  for (const [wish, title] of [
    ['rumble', 'High-pass'],
    ['uneven', 'Compressor'],
    ['hiss', 'Noise reduction'],
  ]) {
    await page.keyboard.press('Escape');
    await add.fill(wish);
    await page.getByRole('option', { name: new RegExp(`^${title}`) }).click();
    await expect(page.getByRole('button', { name: new RegExp(`^${title}`) })).toBeVisible();
  }
  const titles = () => page.locator('ol li [id^=step-] span:first-child').allInnerTexts();
  expect(await titles()).toEqual(['High-pass', 'Compressor', 'Noise reduction']);
  await page.getByRole('textbox', { name: 'Reduction', exact: true }).fill('9');
  await expect(page.getByRole('button', { name: /^Noise reduction 9 dB/ })).toBeVisible();
  await page.getByRole('button', { name: /^Noise reduction/ }).focus();
  await page.keyboard.press('Alt+ArrowUp');
  await page.keyboard.press('Alt+ArrowUp');
  expect(await titles()).toEqual(['Noise reduction', 'High-pass', 'Compressor']);
  await page.getByRole('switch', { name: 'Compressor on' }).click({ force: true });
  await expect(page.getByRole('switch', { name: 'Compressor on' })).not.toBeChecked();
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('switch', { name: 'Compressor on' })).toBeChecked();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Keep as revision 2' }).click();
  await page.getByRole('textbox', { name: 'Note', exact: true }).fill('for the harbour');
  await page.getByRole('button', { name: 'Keep', exact: true }).click();
  await expect(page.getByText('revision 2', { exact: true })).toBeVisible();
  await expect(page.getByText('for the harbour')).toBeVisible();

  // a run of all recordings, one of which can't be read
  await page.goBack();
  await page.goBack();
  await expect(page.getByRole('heading', { name: 'The Harbour Clock' })).toBeVisible();
  await page.getByRole('button', { name: 'Run all' }).click();
  await page.getByRole('combobox', { name: 'Chain', exact: true }).click();
  await page.getByRole('option', { name: 'New chain' }).click();
  await page.getByRole('combobox', { name: 'Target', exact: true }).click();
  await page.getByRole('option', { name: 'Podcast, mono' }).click();
  await page.getByRole('button', { name: 'Start run' }).click();
  await expect(page.getByRole('img', { name: /Loudness before .* after \u221219\.0 LUFS, within/ })).toHaveCount(3, {
    timeout: 120_000,
  });
  await expect(page.getByText(/notes\.wav is no sound file/)).toBeVisible();
  await expect(page.getByText('3 within', { exact: true })).toBeVisible();
  await expectAccessible(page);

  // listen to source and result, level-matched
  await page.getByRole('button', { name: 'Play 02 Second.wav' }).click();
  await expect(page.getByRole('button', { name: 'Pause', exact: true })).toBeVisible();
  await page.keyboard.press('s');
  await expect(page.getByRole('radio', { name: 'Source' })).toBeChecked();
  await page.getByRole('slider', { name: 'Position' }).fill('4');
  await expect(page.getByRole('slider', { name: 'Position' })).toHaveValue(/^[4-7]/);

  // download one, and all
  const [one] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Download 01 First.mp3' }).click(),
  ]);
  expect(one.suggestedFilename()).toBe('01 First.mp3');
  const [all] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Download 3 within' }).click(),
  ]);
  expect((await readFile(await all.path())).toString('latin1')).toContain('data/03 Third.mp3');

  // everything is there after a restart
  const address = page.url();
  expect(await tonos.close()).toBe(0);
  await tonos.open();
  await page.goto(address);
  await expect(page.getByText('3 within', { exact: true })).toBeVisible();
  await page.goto(`${tonos.origin}/chains`);
  await expect(page.getByRole('row', { name: /New chain.* 3 2/ })).toBeVisible();
  expect(problems).toEqual([]);
});

test('a draft survives the closed page', async ({ browser }) => {
  const first = await browser.newPage();
  await first.goto(`${tonos.origin}/chains`);
  await first.getByRole('link', { name: 'New chain' }).click();
  await first.getByRole('button', { name: 'Remove High-pass' }).click();
  await expect(first.getByText('draft after revision 2')).toBeVisible();
  await first.waitForResponse((response) => response.url().endsWith('/draft') && response.ok());
  await first.close();
  const second = await browser.newPage();
  await second.goto(`${tonos.origin}/chains`);
  await expect(second.getByRole('row', { name: /New chain.*draft/ })).toBeVisible();
  await second.getByRole('link', { name: 'New chain' }).click();
  await expect(second.getByText('draft after revision 2')).toBeVisible();
  await expect(second.getByRole('button', { name: 'Remove High-pass' })).toHaveCount(0);
  // even what was changed the moment before
  await second
    .getByRole('button', { name: /^Remove/ })
    .first()
    .click();
  const left = second.getByRole('button', { name: /^Remove/ });
  const count = await left.count();
  await second.close({ runBeforeUnload: true });
  const third = await browser.newPage();
  await third.goto(`${tonos.origin}/chains`);
  await third.getByRole('link', { name: 'New chain' }).click();
  await expect(third.getByRole('button', { name: /^Remove/ })).toHaveCount(count);
});

test('a large file can pause on its way, goes on, and comes in once', async ({ page }) => {
  const rate = 48000;
  const long = Float32Array.from({ length: 6 * 60 * rate }, (_, i) => 0.2 * Math.sin(i / 20) * Math.sin(i / 48000));
  const file = await tonos.wav('Long.wav', rate, long); // 69 MB
  await page.goto(`${tonos.origin}/titles`);
  await page.getByRole('button', { name: 'New title' }).click();
  await page.getByLabel('Name').fill('Long evenings');
  await page.getByRole('button', { name: 'Make title' }).click();
  // slow enough to be stopped
  await page.route('**/api/uploads/**', async (route) => {
    await new Promise((resolve) => setTimeout(resolve, 400));
    await route.continue();
  });
  await page.locator('input[type=file]').first().setInputFiles(file);
  const line = page.getByRole('status').filter({ hasText: 'Long.wav' });
  await line.getByRole('button', { name: 'Pause' }).click();
  await expect(line.getByText('paused')).toBeVisible();
  await line.getByRole('button', { name: 'Go on' }).click();
  await expect(page.getByRole('row', { name: /Long\.wav.* 6:00 \u2212/ })).toBeVisible();
  await expect(line).toHaveCount(0);
  await expect(page.locator('tbody td.name')).toHaveCount(1);
});

test('an upload that was cut goes on in another tab, where it broke off', async ({ context }) => {
  const rate = 48000;
  const long = Float32Array.from({ length: 6 * 60 * rate }, (_, i) => 0.2 * Math.sin(i / 20) * Math.sin(i / 48000));
  const file = await tonos.wav('Cut.wav', rate, long); // 69 MB
  const { id } = await (
    await context.request.post(`${tonos.origin}/api/titles`, { data: { name: 'Two tabs', kind: 'audiobook' } })
  ).json();
  /** Where each part begins that a tab sends, slowly enough to be cut. */
  const choose = async (page: Page) => {
    const begun: number[] = [];
    await page.route('**/api/uploads/**', async (route) => {
      const offset = route.request().headers()['upload-offset'];
      if (offset !== undefined) begun.push(Number(offset));
      await new Promise((resolve) => setTimeout(resolve, 400));
      await route.continue().catch(() => {}); // the tab is closed by now
    });
    await page.goto(`${tonos.origin}/titles/${id}`);
    await page.locator('input[type=file]').first().setInputFiles(file);
    return begun;
  };
  const first = await context.newPage();
  const sent = await choose(first);
  await expect.poll(() => sent.length).toBeGreaterThan(2);
  await first.close();
  const second = await context.newPage();
  const more = await choose(second);
  await expect(second.getByRole('row', { name: /Cut\.wav.* 6:00 \u2212/ })).toBeVisible();
  expect(more[0]).toBeGreaterThanOrEqual(sent[1]);
  await expect(second.locator('tbody td.name')).toHaveCount(1);
});

test('a new take takes the place of a recording; the old one can be used again', async ({ page }) => {
  await page.goto(`${tonos.origin}/titles`);
  await page.getByRole('link', { name: 'The Harbour Clock', exact: true }).click();
  await page.getByRole('link', { name: '02 Second.wav' }).click();
  const take = await tonos.voice('02 Second, again.wav', 9, 12);
  await page.getByRole('region', { name: 'Takes' }).locator('input[type=file]').setInputFiles(take);
  await expect(page.getByRole('heading', { name: '02 Second, again.wav' })).toBeVisible();
  await page.getByRole('button', { name: 'Use this one' }).click();
  await expect(page.getByRole('heading', { name: '02 Second.wav' })).toBeVisible();
  await page.getByLabel('Beside it').selectOption('previous');
  const loudness = page.getByRole('row', { name: /^Loudness LUFS/ });
  await expect(loudness).toHaveText(/\u2212\d\d\.\d.*\u2212\d\d\.\d/);
});
