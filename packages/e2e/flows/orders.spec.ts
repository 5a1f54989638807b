import { expect, type Page, test } from '@playwright/test';
import { expectAccessible } from './no-findings.ts';
import { Tonos } from './tonos.ts';

let tonos: Tonos;
test.beforeAll(async () => {
  tonos = await Tonos.start({ demo: true });
});
test.afterAll(() => tonos.remove());

const get = async <T>(path: string): Promise<T> => (await (await fetch(`${tonos.origin}/api${path}`)).json()) as T;

interface Part {
  name: string;
  begins: object;
  lasts: object | null;
  source: object;
}

async function night(): Promise<string> {
  const titles = await get<{ id: string; name: string }[]>('/titles');
  const { id } = titles.find(({ name }) => name.startsWith('Night Shift'))!;
  await expect
    .poll(
      async () =>
        (await get<{ status: string }[]>(`/titles/${id}/recordings`)).every(({ status }) => status === 'ready'),
      { timeout: 60_000 },
    )
    .toBe(true);
  return id;
}

/** Chooses in a field by what is typed. */
async function choose(page: Page, label: string, typed: string, nth = 0) {
  const field = page
    .getByRole('region', { name: /^Part / })
    .getByRole('combobox', { name: label, exact: true })
    .nth(nth);
  await field.click();
  await page.getByRole('option', { name: typed, exact: true }).click();
}

test('an episode is built, a bed is put under it and nudged by keys, kept and undone', async ({ page }) => {
  const titleId = await night();
  await page.goto(`${tonos.origin}/titles/${titleId}`);
  await page.getByRole('button', { name: 'New running order' }).click();
  await page.getByRole('menuitem', { name: 'Empty' }).click();
  await expect(page.getByRole('heading', { name: 'New running order' })).toBeVisible();
  await page.keyboard.press('a');
  await choose(page, 'Source', 'Opening music.flac');
  await page.getByRole('textbox', { name: 'Name', exact: true }).fill('Opening');
  await page.getByRole('button', { name: 'Opening', exact: true }).press('a');
  await page.getByRole('textbox', { name: 'Name', exact: true }).fill('Body');
  await page.getByRole('button', { name: 'Body', exact: true }).press('a');
  await page.getByRole('textbox', { name: 'Name', exact: true }).fill('Bed');
  await choose(page, 'Source', 'Night bed.flac');
  await choose(page, 'Begins', 'when another part begins');
  await choose(page, 'Part', 'Body');
  await choose(page, 'Lasts', 'until another part ends');
  await choose(page, 'Part', 'Body', 1);
  await page.getByRole('checkbox', { name: 'Repeated where it is too short' }).check();
  const rows = page.locator('table').first().locator('tbody tr');
  await expect(rows.nth(1)).toContainText('when Opening ends');
  await expect(rows.nth(2)).toContainText('with Body');
  await expect(rows.nth(2)).toContainText('repeated until Body ends');
  const plate = page.getByRole('button', { name: /^Bed, / });
  await plate.focus();
  for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowRight');
  await expect(rows.nth(2)).toContainText('0.50 s after Body begins');
  await page.keyboard.press('Control+z');
  await expect(rows.nth(2)).toContainText('with Body');
  await page.keyboard.press('Control+Shift+z');
  await expect(rows.nth(2)).toContainText('0.50 s after Body begins');
  await expectAccessible(page);
  await rows.nth(2).getByRole('button').focus();
  await page.keyboard.press('k');
  await page.getByRole('dialog').getByRole('textbox', { name: 'Note' }).fill('A bed under it');
  await page.getByRole('dialog').getByRole('button', { name: 'Keep' }).click();
  await expect(page.getByText('A bed under it')).toBeVisible();
  const [, made] = await get<{ id: string }[]>(`/titles/${titleId}/orders`);
  const { order } = await get<{ order: { parts: Part[] } }>(`/orders/${made.id}`);
  expect(order.parts.map(({ name }) => name)).toEqual(['Opening', 'Body', 'Bed']);
  expect(order.parts[2]).toMatchObject({ begins: { offsetSeconds: 0.5 }, lasts: { loop: true } });
});

test('a programme is measured, heard from any part while it is edited, and group by group', async ({ page }) => {
  test.setTimeout(120_000);
  const titleId = await night();
  const orders = await get<{ id: string; name: string }[]>(`/titles/${titleId}/orders`);
  const { id } = orders.find(({ name }) => name === 'Weekly episode')!;
  await page.goto(`${tonos.origin}/orders/${id}`);
  // its opening is brought to its level, and what its voices' chain learned is known when it is measured
  const opening = page.locator('table').first().locator('tbody tr').first();
  await expect(opening).toContainText('\u221220.0', { timeout: 60_000 });
  const meter = page.getByLabel('Meters').locator('div', { hasText: '0.4 s LUFS' }).locator('dd');
  const lufs = async () => Number((await meter.textContent())?.replace('\u2212', '-'));
  await opening.getByRole('button').focus();
  await page.keyboard.press('l');
  await expect.poll(lufs, { timeout: 20_000 }).toBeGreaterThan(-40);
  await expect(page.getByRole('button', { name: 'Pause' }).first()).toBeVisible();
  // music alone is heard; without it there is nothing to hear
  await page.getByRole('button', { name: 'Hear only Sounds' }).click();
  await expect(meter).toHaveText('\u2013', { timeout: 20_000 });
  await page.getByRole('button', { name: 'Hear only Sounds' }).click();
  await opening.getByRole('button').focus();
  await page.keyboard.press('l');
  await expect.poll(lufs, { timeout: 20_000 }).toBeGreaterThan(-40);
  // it sounds on, 20 dB down, when it is edited
  const before = await lufs();
  const level = page.getByRole('textbox', { name: 'Level of Opening' });
  await level.fill('-45');
  await level.press('Enter');
  await expect.poll(async () => before - (await lufs()), { timeout: 10_000 }).toBeGreaterThan(15);
  await page.keyboard.press('Control+z');
  await page.getByRole('button', { name: 'Pause' }).first().click();
});

test('a group\u2019s chain is opened in place: what is changed stays with the order, and goes back to the shared one', async ({
  page,
}) => {
  const titleId = await night();
  const orders = await get<{ id: string; name: string }[]>(`/titles/${titleId}/orders`);
  const { id } = orders.find(({ name }) => name === 'Weekly episode')!;
  await page.goto(`${tonos.origin}/orders/${id}`);
  await page.getByRole('button', { name: 'steps: Chain of Voices' }).click();
  const steps = page.getByRole('list', { name: 'Steps of Voices' });
  const before = await steps.getByRole('listitem').count();
  // what each step does to the levels is told once it is measured, and its curve is drawn beside its settings
  await expect(steps.getByRole('listitem').first()).toContainText(/\u2212\d+\.\d LUFS/);
  await steps.getByRole('button', { name: /^High-pass/ }).click();
  await expect(steps.getByRole('figure').first()).toBeVisible();
  await steps.getByRole('textbox', { name: 'Frequency' }).fill('120');
  await expect(page.getByText('Steps of this order alone.')).toBeVisible();
  await steps.getByRole('button', { name: 'Move High-pass down' }).click();
  await page.getByRole('combobox', { name: 'Add a step' }).fill('too sharp s');
  await page.getByRole('option', { name: /^De-esser/ }).click();
  await expect(steps.getByRole('listitem')).toHaveCount(before + 1);
  await expectAccessible(page);
  interface Kept {
    draft: { order: { groups: { chain: unknown }[] } } | null;
  }
  const chain = async () =>
    (await get<Kept>(`/orders/${id}`)).draft?.order.groups[0].chain as { steps: { kind: string }[] };
  await expect.poll(async () => (await chain())?.steps?.at(-1)?.kind).toBe('de-esser');
  // it can be put together as it is
  await expect(
    page
      .getByRole('row', { name: /^The whole/ })
      .getByText(/^\u2212\d/)
      .first(),
  ).toBeVisible();
  await page.getByRole('button', { name: /^Back to the chain/ }).click();
  // which is what the revision has: there is no draft any more
  await expect.poll(async () => (await get<Kept>(`/orders/${id}`)).draft).toBeNull();
});

test('a circle is told by part and field, and undone; the drawing stays as it was', async ({ page }) => {
  const titleId = await night();
  const [{ id }] = await get<{ id: string }[]>(`/titles/${titleId}/orders`);
  await page.goto(`${tonos.origin}/orders/${id}`);
  await page.getByRole('button', { name: 'Opening', exact: true }).click();
  await choose(page, 'Begins', 'when another part ends');
  await choose(page, 'Part', 'Body');
  await expect(page.getByRole('alert')).toContainText('circle');
  await expect(page.getByRole('button', { name: /^Closing, / })).toBeVisible();
  await expect(page.getByRole('button', { name: /^Keep as revision/ })).toBeDisabled();
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('alert')).toHaveCount(0);
});

test('a season is run by one pattern: an item for each body, its parts told, delivered as any run', async ({
  page,
}) => {
  test.setTimeout(240_000);
  const titleId = await night();
  const orders = await get<{ id: string; name: string }[]>(`/titles/${titleId}/orders`);
  await page.goto(`${tonos.origin}/orders/${orders.find(({ name }) => name === 'Weekly episode')!.id}`);
  await page.getByRole('button', { name: /^Run revision/ }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('combobox', { name: /What fills/ }).click();
  for (const name of ['1 Cold open.flac', '5 Two at the desk.flac']) await page.getByRole('option', { name }).click();
  const forecast = dialog.getByRole('region', { name: 'Forecast' });
  await expect(forecast.getByText(/^0:3\d.* long$/)).toBeVisible();
  await page.keyboard.press('Escape');
  await dialog.getByRole('button', { name: 'Start 2 programmes' }).click();
  await expect(page.getByText('2 within', { exact: true })).toBeVisible({ timeout: 200_000 });
  await expect(page.getByText('Opening, Body, Bed, Break, Closing').first()).toBeVisible();
  await page.getByRole('button', { name: '1 Cold open.flac', exact: true }).click();
  const parts = page.getByRole('table', { name: 'Parts' });
  await expect(parts.getByRole('row', { name: /^Body 0:06\.50/ })).toBeVisible();
  await expectAccessible(page);
  await page.goto(`${tonos.origin}/titles/${titleId}`);
  await expect(page.getByText('2 within', { exact: true })).toBeVisible();
});

test('music lies on a shelf, apart from the chapters', async ({ page }) => {
  const titleId = await night();
  await page.goto(`${tonos.origin}/titles/${titleId}`);
  await expect(page.getByText('5 recordings')).toBeVisible();
  const shelf = page.getByRole('region', { name: 'Music and sounds' });
  await expect(shelf.getByRole('link', { name: 'Night bed.flac' })).toBeVisible();
  await shelf.getByRole('textbox', { name: 'Under what Night bed.flac may be used' }).fill('Of the house');
  await page.keyboard.press('Tab');
  await expect
    .poll(
      async () =>
        (await get<{ name: string; licence: string }[]>('/shelf')).find(({ name }) => name === 'Night bed.flac')
          ?.licence,
    )
    .toBe('Of the house');
});
