import { expect, type Locator, type Page, test } from '@playwright/test';
import { allReady, api, type Named, type RunReply } from './api.ts';
import { Tonos } from './tonos.ts';

let tonos: Tonos;
let call: ReturnType<typeof api>;
let title: Named;
let run: RunReply;
test.beforeAll(async () => {
  tonos = await Tonos.start({ demo: true });
  call = api(tonos);
  [title] = await call<Named[]>('GET', '/titles');
  await allReady<Named & { status: string }>(call, title.id);
  [run] = await call<RunReply[]>('GET', '/runs');
  await expect
    .poll(async () => (await call<RunReply>('GET', `/runs/${run.id}`)).status, { timeout: 120_000 })
    .toBe('finished');
});
test.afterAll(() => tonos.remove());

const MOST_STOPS = 120;

/** From stop to stop, as somebody without a pointer goes, until it is there; then a key. */
async function at(page: Page, target: Locator, ...keys: string[]): Promise<void> {
  await expect(target).toBeAttached();
  for (let stop = 0; stop < MOST_STOPS; stop++) {
    if (await target.evaluate((element) => element === document.activeElement)) {
      for (const key of keys) await page.keyboard.press(key);
      return;
    }
    await page.keyboard.press('Tab');
  }
  throw new Error(`No key leads to ${target}`);
}

const open = async (page: Page, path: string, heading: string) => {
  await page.goto(tonos.origin + path);
  await expect(page.getByRole('heading', { level: 1, name: heading })).toBeVisible();
};
const button = (page: Page, name: string | RegExp) =>
  page.getByRole('button', { name, exact: typeof name === 'string' });

// each page's own act, the pointer left alone; a recording, an order, long lists and the trash have theirs in flows of their own
test('Today: what waits leads to its board, where it is accepted with a reason', async ({ page }) => {
  await open(page, '/', 'Today');
  await at(page, page.getByRole('link', { name: 'To the board: 02 A measure of light.flac' }), 'Enter');
  await expect(page.getByRole('heading', { level: 1, name: title.name })).toBeVisible();
  await at(page, button(page, '02 A measure of light.flac'), 'Enter');
  await at(page, page.getByRole('textbox', { name: /^Why 02 A measure/ }));
  await page.keyboard.type('The house is like that');
  await at(page, button(page, 'Accept with this reason'), 'Enter');
  const accepted = async () =>
    (await call<{ items: { accepted: { reason: string } | null }[] }>('GET', `/runs/${run.id}`)).items.map(
      (item) => item.accepted?.reason,
    );
  await expect.poll(accepted).toContain('The house is like that');
});

test('titles: one is made', async ({ page }) => {
  await open(page, '/titles', 'Titles');
  await at(page, button(page, 'New title'), 'Enter');
  await at(page, page.getByRole('textbox', { name: 'Name' }));
  await page.keyboard.type('By keys');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { level: 1, name: 'By keys' })).toBeVisible();
});

test('a title: a recording is chosen and run', async ({ page }) => {
  await open(page, `/titles/${title.id}`, title.name);
  await at(page, page.getByRole('checkbox', { name: 'Choose 01 The salt road.flac' }), 'Space');
  await at(page, button(page, /^Run/).first(), 'Enter');
  await at(page, button(page, 'Start run'), 'Enter');
  await expect.poll(async () => (await call<unknown[]>('GET', '/runs')).length).toBe(2);
});

test('figures: another measure is chosen, and a recording opened', async ({ page }) => {
  await open(page, `/titles/${title.id}/figures?measure=rmsDbfs`, `Figures of ${title.name}`);
  await at(page, page.getByRole('radio', { name: 'RMS' }), 'ArrowRight');
  await expect(page).not.toHaveURL(/rmsDbfs/);
  await at(page, page.getByRole('link', { name: '04 Two lanterns.flac' }), 'Enter');
  await expect(page.getByRole('heading', { level: 1, name: '04 Two lanterns.flac' })).toBeVisible();
});

test('chains: one is made and gets a step, which is changed and switched off', async ({ page }) => {
  await open(page, '/chains', 'Chains');
  await at(page, button(page, 'New chain'), 'Enter');
  await page.keyboard.type('By keys');
  await page.keyboard.press('Enter');
  await at(page, page.getByRole('combobox', { name: 'Add a step' }));
  await page.keyboard.type('rumble');
  // what Enter takes is marked as soon as it is found
  await expect(page.locator('[role=option][data-combobox-selected]')).toHaveText(/^High-pass/);
  await page.keyboard.press('Enter');
  await at(page, page.getByRole('switch', { name: 'High-pass on' }), 'Space');
  await expect(page.getByRole('switch', { name: 'High-pass on' })).not.toBeChecked();
});

test('targets: one is made', async ({ page }) => {
  await open(page, '/targets', 'Targets');
  await at(page, button(page, 'Copy Podcast, mono'), 'Enter');
  await at(page, page.getByRole('textbox', { name: 'Name', exact: true }), 'Control+a');
  await page.keyboard.type('By keys');
  await page.keyboard.press('Enter');
  const names = async () => (await call<Named[]>('GET', '/targets')).map(({ name }) => name);
  await expect.poll(names).toContain('By keys');
});

test('runs: one is found by its title and opened', async ({ page }) => {
  await open(page, '/runs', 'Runs');
  await at(page, page.getByRole('textbox', { name: 'Show only' }));
  await page.keyboard.type('salt');
  await at(page, page.getByRole('link', { name: title.name }).first(), 'Enter');
  await expect(page).toHaveURL(/runs\/./);
});

test('machines, modules, storage: a machine is asked for, a module thrown away, files are cleared', async ({
  page,
}) => {
  await open(page, '/machines', 'Machines');
  await at(page, button(page, 'Add a machine'), 'Enter');
  await expect(page.getByRole('dialog')).toBeVisible();
  await open(page, '/modules', 'Modules');
  await at(page, button(page, 'Move to the trash: Tilt 1.0'), 'Enter');
  await expect.poll(async () => (await call<unknown[]>('GET', '/modules')).length).toBe(0);
  await open(page, '/storage', 'Storage');
  await at(page, button(page, /^Clear .* of renders/), 'Enter');
  await expect(page.getByRole('alert').filter({ hasText: 'are cleared' })).toBeVisible();
});
