import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import type { Browser } from '@playwright/test';
import type { Recording } from '@tonos/contract';
import { allReady, api, type Named } from '@tonos/e2e/api';
import { overhear } from '@tonos/e2e/ear';
import type { Tonos } from '@tonos/e2e/tonos';
import type { Figure } from './figure.ts';
import { newPage, smoothness } from './frames.ts';
import { startMs, writeHours } from './ten-hours.ts';

const NAME = 'An hour.wav';
const CUTS = 300;
const EVERY_SECONDS = 12;

/** A chapter of an hour with three hundred cuts: opened, heard, looked at. */
export async function hourOfCuts(tonos: Tonos, browser: Browser): Promise<Figure[]> {
  await mkdir(join(tonos.folder, 'inbox'), { recursive: true });
  await writeHours(join(tonos.folder, 'inbox', NAME), 1);
  const call = api(tonos);
  const title = await call<Named>('POST', '/titles', { name: 'Cut', kind: 'audiobook' });
  await call('POST', `/titles/${title.id}/recordings/from-folder`, { files: [NAME] });
  const [recording] = await allReady<Recording>(call, title.id);
  const cuts = Array.from({ length: CUTS }, (_, i) => ({
    id: `c${i}`,
    kind: i % 2 ? 'take-out' : 'room-tone',
    on: true,
    startSeconds: 3 + i * EVERY_SECONDS,
    endSeconds: 3.6 + i * EVERY_SECONDS,
  }));
  await call('PATCH', `/recordings/${recording.id}`, { cuts });

  const page = await newPage(browser);
  await overhear(page);
  await page.goto(`${tonos.origin}/recordings/${recording.id}`);
  const wave = page.getByRole('img', { name: 'Wave' });
  await wave.waitFor();
  const opened = performance.now();
  await page.reload();
  await wave.waitFor();
  await page.waitForFunction(() => {
    const canvas = document.querySelector<HTMLCanvasElement>('[aria-label="Wave"] canvas, canvas[aria-label="Wave"]');
    const pixels = canvas?.getContext('2d')?.getImageData(0, 0, canvas.width, canvas.height).data;
    return pixels?.some((value) => value > 0);
  });
  const openedMs = performance.now() - opened;
  const box = (await wave.boundingBox())!;
  const starts: number[] = [];
  for (const share of [0.2, 0.9, 0.05, 0.6, 0.75])
    starts.push(await startMs(page, box.x + share * box.width, box.y + 40));
  starts.sort((a, b) => a - b);
  await page.mouse.move(box.x + 0.37 * box.width, box.y + box.height / 2);
  const zooming = await smoothness(page, async () => {
    for (const deltaY of [-100, 100])
      for (let i = 0; i < 60; i++) {
        await page.mouse.wheel(0, deltaY);
        await page.waitForTimeout(16);
      }
  });
  await page.close();
  const ms = (value: number) => `${Math.round(value)} ms`;
  return [
    { what: `an hour with ${CUTS} cuts opens`, wanted: 'in 1 s', found: ms(openedMs) },
    {
      what: 'click to sound among its cuts',
      wanted: 'in 150 ms',
      found: `median ${ms(starts[2])}, worst ${ms(starts[4])}`,
    },
    {
      what: 'zooming from the hour to samples and back',
      wanted: '60 frames a second',
      found: `${zooming.framesPerSecond.toFixed(0)}, 95 of 100 within ${ms(zooming.p95Ms)}`,
    },
  ];
}
