import { expect, test } from '@playwright/test';
import { startedRun } from './api.ts';
import { Tonos } from './tonos.ts';

const ITEMS = 80;

test('a long board and a long title draw what is in sight, keep open what was opened, and go by keys', async ({
  page,
}) => {
  const tonos = await Tonos.start({ demo: false });
  try {
    const { titleId, runId, now } = await startedRun(tonos, 'Many', ITEMS, 4);
    await page.goto(`${tonos.origin}/runs/${runId}`);
    const board = page.getByRole('table').first();
    await expect(board).toHaveAttribute('aria-rowcount', String(ITEMS + 1));
    const rows = page.locator('tr[data-status]');
    await expect(rows.first()).toBeVisible();
    expect(await rows.count()).toBeLessThan(0.7 * ITEMS);

    await page.getByRole('button', { name: '2.wav', exact: true }).click();
    const account = page.getByText('Loudest 400 ms');
    // the run goes on while its board is looked at
    await expect.poll(async () => (await now()).counts.within, { timeout: 120_000 }).toBeGreaterThan(2);
    await expect(account).toBeVisible();
    await page.evaluate(() => window.scrollTo(0, document.body.scrollHeight));
    await expect(page.getByRole('button', { name: `${ITEMS}.wav`, exact: true })).toBeVisible();
    await expect(account).toBeHidden();
    // the end of the list is the end of the page: nothing is left over and nothing is missing
    const last = (await rows.last().boundingBox())!;
    const strip = await page.evaluate(() => document.documentElement.scrollHeight - window.scrollY);
    expect(last.y + last.height).toBeLessThan(strip);
    await page.evaluate(() => window.scrollTo(0, 0));
    await expect(account).toBeVisible();

    await page.goto(`${tonos.origin}/titles/${titleId}`);
    const recordings = page.locator('tbody tr[tabindex]');
    await recordings.first().focus();
    // keys come quicker than rows are drawn: none of them is lost
    const held = (key: string) =>
      page.evaluate(
        ([key, times]) => {
          for (let i = 0; i < times; i++)
            document.activeElement!.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }));
        },
        [key, ITEMS - 1] as const,
      );
    await held('ArrowDown');
    await expect(page.locator('tr:focus')).toContainText(`${ITEMS}.wav`);
    await held('ArrowUp');
    await expect(page.locator('tr:focus')).toHaveAttribute('aria-rowindex', '2');
    await held('ArrowDown');
    await expect(page.locator('tr:focus')).toContainText(`${ITEMS}.wav`);
    expect(await recordings.count()).toBeLessThan(0.7 * ITEMS);
    await page.keyboard.press('x');
    await expect(page.locator('tr:focus').getByRole('checkbox')).toBeChecked();
  } finally {
    await tonos.remove();
  }
});
