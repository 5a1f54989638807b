import { expect, type Page, test } from '@playwright/test';
import { allReady, api, type Named, type RunReply } from './api.ts';
import { findingsOf } from './no-findings.ts';
import { Tonos } from './tonos.ts';

let tonos: Tonos;
let views: Record<string, string>;
test.beforeAll(async () => {
  tonos = await Tonos.start({ demo: true });
  const call = api(tonos);
  const [title] = await call<Named[]>('GET', '/titles');
  const [recording] = await allReady<Named & { status: string }>(call, title.id);
  const [order] = await call<Named[]>('GET', `/titles/${title.id}/orders`);
  const [chain] = await call<Named[]>('GET', '/chains');
  const [run] = await call<RunReply[]>('GET', '/runs');
  await expect
    .poll(async () => (await call<RunReply>('GET', `/runs/${run.id}`)).status, { timeout: 120_000 })
    .toBe('finished');
  views = {
    '/': 'Today',
    '/titles': 'Titles',
    [`/titles/${title.id}`]: title.name,
    [`/titles/${title.id}/figures?measure=rmsDbfs`]: `Figures of ${title.name}`,
    [`/recordings/${recording.id}`]: recording.name,
    [`/orders/${order.id}`]: order.name,
    '/chains': 'Chains',
    [`/chains/${chain.id}`]: chain.name,
    '/targets': 'Targets',
    '/runs': 'Runs',
    [`/runs/${run.id}`]: title.name,
    '/machines': 'Machines',
    '/modules': 'Modules',
    '/outside': 'Outside',
    '/storage': 'Storage',
    '/trash': 'Trash',
    '/nowhere': 'Nothing here',
  };
});
test.afterAll(() => tonos.remove());

/** Every view, when what it shows has come. */
async function inEveryView(page: Page, look: (path: string) => Promise<void>): Promise<void> {
  for (const [path, heading] of Object.entries(views)) {
    await page.goto(tonos.origin + path);
    await expect(page.getByRole('heading', { level: 1, name: heading })).toBeVisible();
    await page.waitForLoadState('networkidle');
    await look(path);
  }
}

/** A theme changes colours and nothing else. */
const SCHEMES = { light: [], dark: ['color-contrast'] };

for (const [colorScheme, rules] of Object.entries(SCHEMES) as ['light' | 'dark', string[]][])
  test(`every view is without findings of any level, ${colorScheme}`, async ({ page }) => {
    await page.emulateMedia({ colorScheme });
    const found: string[] = [];
    await inEveryView(page, async (path) => {
      for (const finding of await findingsOf(page, rules)) found.push(`${path} ${finding}`);
    });
    expect(found).toEqual([]);
  });

test('P26: no view is wider than its window, from 820 to 2560, and a board\u2019s acts stay in it', async ({
  page,
}) => {
  const tooWide: string[] = [];
  await inEveryView(page, async (path) => {
    for (const width of [820, 1024, 1280, 1920, 2560]) {
      await page.setViewportSize({ width, height: 900 });
      const over = await page.evaluate(() => document.documentElement.scrollWidth - innerWidth);
      if (over > 0) tooWide.push(`${path} at ${width}: ${over} px`);
    }
  });
  const board = Object.keys(views).find((path) => path.startsWith('/runs/'))!;
  await page.setViewportSize({ width: 1024, height: 800 });
  await page.goto(tonos.origin + board);
  const row = page.locator('tr[data-status]').first();
  for (const cell of [row.locator('td, th').first(), row.locator('td, th').last()])
    await expect(cell).toBeInViewport({ ratio: 1 });
  expect(tooWide).toEqual([]);
});

test('P32: charts have a table for readers beside them', async ({ page }) => {
  const drawn: string[] = [];
  const without: string[] = [];
  await inEveryView(page, async (path) => {
    const charts = await page.locator('svg.recharts-surface').evaluateAll((all) =>
      all.map((svg) => {
        const part = svg.closest('section, main')!;
        return { isRead: part.querySelector('table') !== null };
      }),
    );
    if (charts.length) drawn.push(path);
    if (charts.some(({ isRead }) => !isRead)) without.push(path);
  });
  expect(without).toEqual([]);
  expect(drawn).toEqual(
    expect.arrayContaining([expect.stringContaining('/figures'), expect.stringContaining('/recordings/'), '/storage']),
  );
});

test('P21, P22: a stretch is chosen, typed and marked by keys alone, and a change of page has a word', async ({
  page,
}) => {
  const path = Object.keys(views).find((one) => one.startsWith('/recordings/'))!;
  await page.goto(tonos.origin + path);
  await expect(page.getByRole('img', { name: 'Wave' })).toBeVisible();
  const stretch = page.getByRole('region', { name: 'Chosen stretch' });
  await page.keyboard.press('Shift+ArrowRight');
  await page.keyboard.press('Shift+Alt+ArrowRight');
  await expect(stretch).toBeVisible();
  await page.keyboard.press('t');
  await expect(stretch.getByLabel('From')).toBeFocused();
  await page.keyboard.type('1.5');
  await page.keyboard.press('Tab');
  await page.keyboard.type('0:02.25');
  await page.keyboard.press('Enter');
  await expect(stretch.getByLabel('To')).toHaveValue('0:02.25');
  await page.keyboard.press('m');
  const marks = page.getByRole('region', { name: 'Marks' });
  await expect(marks.getByLabel('Start of Range 1')).toHaveValue('1.500');
  await expect(marks.getByLabel('End of Range 1')).toHaveValue('2.250');
  await page.keyboard.press('Escape');
  await expect(stretch).toBeHidden();
  await page.keyboard.press('Control+z');
  await expect(marks).toBeHidden();

  await page.keyboard.press('g');
  await page.keyboard.press('r');
  await expect(page.getByRole('status').filter({ hasText: 'Runs \u00b7 Tonos' })).toBeAttached();
  await expect(page.locator('#content')).toBeFocused();
});

test('a title\u2019s figures lead to a recording, which compares what was delivered of it', async ({ page }) => {
  const path = Object.keys(views).find((one) => one.includes('/figures'))!;
  await page.goto(tonos.origin + path);
  const row = page.getByRole('row', { name: /Two lanterns/ });
  await expect(row).toContainText('\u221220.0');
  await row.getByRole('link').click();
  const deliveries = page.getByRole('region', { name: 'Deliveries' });
  const delivered = deliveries.getByRole('row').nth(2);
  await expect(delivered).toContainText('within');
  const difference = (await delivered.locator('td').nth(4).textContent()) ?? '';
  expect(difference).toMatch(/^\+\d+\.\d$/);
  // told against the delivery instead, it is the recording that lies so much lower
  await delivered.getByRole('radio').check();
  await expect(deliveries.getByRole('row').nth(1).locator('td').nth(4)).toHaveText(difference.replace('+', '\u2212'));
});
