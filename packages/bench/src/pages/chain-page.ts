import { readFile, rm } from 'node:fs/promises';
import type { Browser, Locator, Page } from '@playwright/test';
import type { Chain } from '@tonos/contract';
import { allReady, api, type Named } from '@tonos/e2e/api';
import type { Tonos } from '@tonos/e2e/tonos';
import type { Figure } from './figure.ts';
import { newPage, smoothness } from './frames.ts';

const STEPS = [
  'dc-removal',
  'high-pass',
  'hum-removal',
  'declick',
  'parametric-eq',
  'de-esser',
  'expander',
  'compressor',
  'gain',
  'limiter',
];

/** How soon the last row's account follows five values that are typed into a field, rising. */
export async function renewalsMs(page: Page, field: Locator, last: Locator): Promise<number[]> {
  const waits: number[] = [];
  for (const typed of ['-3', '-6', '-4', '-7', '-5']) {
    await last.evaluate((row) => {
      const watched = window as unknown as { typed: number; renewed: number };
      watched.typed = 0;
      watched.renewed = 0;
      const before = row.textContent;
      const note = () => {
        watched.typed = performance.now();
      };
      addEventListener('input', note, { once: true, capture: true });
      const observer = new MutationObserver(() => {
        if (!watched.typed || row.textContent === before) return;
        watched.renewed = performance.now();
        observer.disconnect();
      });
      observer.observe(row, { subtree: true, childList: true, characterData: true });
    });
    await field.fill(typed);
    await page.waitForFunction(() => (window as unknown as { renewed: number }).renewed > 0);
    waits.push(
      await page.evaluate(() => {
        const watched = window as unknown as { typed: number; renewed: number };
        return watched.renewed - watched.typed;
      }),
    );
    await page.waitForTimeout(2500);
  }
  return waits.sort((a, b) => a - b);
}

/** A chain of ten steps over an example of a minute: how soon its account follows a setting, how smoothly a point is dragged. */
export async function chainPage(tonos: Tonos, browser: Browser): Promise<Figure[]> {
  const file = await tonos.voice('Minute.wav', 60, 5);
  const call = api(tonos);
  const title = await call<Named>('POST', '/titles', { name: 'One minute', kind: 'podcast' });
  const form = new FormData();
  form.append('files', new Blob([await readFile(file)]), 'Minute.wav');
  await call('POST', `/titles/${title.id}/recordings`, form);
  await rm(file);
  await allReady(call, title.id);
  const bands = [{ shape: 'bell', frequencyHz: 1000, gainDb: 3, q: 1 }];
  const chain = await call<Chain>('POST', '/chains', {
    format: 'tonos.chain/1',
    name: 'Ten steps',
    steps: STEPS.map((kind) => ({ id: kind, kind, settings: kind === 'parametric-eq' ? { bands } : {} })),
  });
  const page = await newPage(browser);
  await page.goto(`${tonos.origin}/chains/${chain.id}`);
  await page.getByText('recording as it came, measured whole').waitFor({ timeout: 120_000 });
  await page.waitForTimeout(3000);

  await page.getByRole('button', { name: /^Gain/ }).first().click();
  const field = page.getByRole('textbox', { name: 'Gain', exact: true });
  await field.waitFor();
  const last = page.getByRole('listitem').filter({ has: page.getByRole('button', { name: /^Limiter/ }) });
  const waits = await renewalsMs(page, field, last);

  await page
    .getByRole('button', { name: /^Parametric EQ/ })
    .first()
    .click();
  const point = page.getByRole('slider').first();
  const box = (await point.boundingBox())!;
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  const dragging = await smoothness(page, async () => {
    for (let i = 0; i < 120; i++) {
      await page.mouse.move(x + 60 * Math.sin(i / 9), y + 20 * Math.sin(i / 5));
      await page.waitForTimeout(8);
    }
  });
  await page.mouse.up();
  await page.close();
  return [
    {
      what: 'a setting typed to the first new figures, ten steps, one minute',
      wanted: 'in 400 ms',
      found: `median ${Math.round(waits[2])} ms, worst ${Math.round(waits[4])} ms`,
    },
    {
      what: 'dragging a point of an EQ',
      wanted: '60 frames a second',
      found: `${dragging.framesPerSecond.toFixed(0)}, 95 of 100 within ${Math.round(dragging.p95Ms)} ms`,
    },
  ];
}
