import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import type { Browser, Page } from '@playwright/test';
import type { Recording } from '@tonos/contract';
import { babble, mixed, noise } from '@tonos/core/testing';
import { allReady, api, type Named } from '@tonos/e2e/api';
import { overhear } from '@tonos/e2e/ear';
import type { Tonos } from '@tonos/e2e/tonos';
import { ByteWriter, writeWav } from '@tonos/formats';
import { renewalsMs } from './chain-page.ts';
import type { Figure } from './figure.ts';
import { memoryOf, newPage, smoothness } from './frames.ts';

const RATE = 44100;
const HOURS = 10;
const VOICE_SECONDS = 60;
const NAME = 'Ten hours.wav';
const MEGA = 1024 * 1024;

/** A minute of a voice again and again. */
export async function writeHours(path: string, hours: number): Promise<void> {
  const voice = mixed(babble(VOICE_SECONDS, RATE), noise(0.0005, VOICE_SECONDS, RATE)).map((x) => 0.3 * x);
  const bytes = await ByteWriter.create(path);
  const writer = await writeWav(bytes, { format: { sampleRateHz: RATE, channels: 1 }, bitDepth: 16 });
  for (let i = 0; i < (hours * 3600) / VOICE_SECONDS; i++) await writer.write([voice]);
  await writer.finish();
  await bytes.close();
}

/** A ten-hour recording brought in, looked at and listened to. */
export async function tenHours(tonos: Tonos, browser: Browser): Promise<Figure[]> {
  await mkdir(join(tonos.folder, 'inbox'), { recursive: true });
  await writeHours(join(tonos.folder, 'inbox', NAME), HOURS);
  const call = api(tonos);
  const title = await call<Named>('POST', '/titles', { name: 'A long night', kind: 'audiobook' });
  const started = performance.now();
  await call('POST', `/titles/${title.id}/recordings/from-folder`, { files: [NAME] });
  const [recording] = await allReady<Recording>(call, title.id);
  const importSeconds = (performance.now() - started) / 1000;

  const page = await newPage(browser);
  await overhear(page);
  await page.goto(`${tonos.origin}/recordings/${recording.id}`);
  const wave = page.getByRole('img', { name: 'Wave' });
  await wave.waitFor();
  // once more, as people open it who have been on another page
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
  await page.mouse.move(box.x + 0.37 * box.width, box.y + box.height / 2);
  const turns = async (count: number, deltaX: number, deltaY: number) => {
    for (let i = 0; i < count; i++) {
      await page.mouse.wheel(deltaX, deltaY);
      await page.waitForTimeout(16);
    }
  };
  const zooming = await smoothness(page, async () => {
    await turns(70, 0, -100);
    await turns(70, 0, 100);
  });
  await turns(25, 0, -100);
  const scrolling = await smoothness(page, () => turns(120, 60, 0));
  await turns(60, 0, 200);
  const starts: number[] = [];
  for (const share of [0.2, 0.9, 0.05, 0.6, 0.75])
    starts.push(await startMs(page, box.x + share * box.width, box.y + 40));
  const memory = await memoryOf(page);
  await page.close();
  const chain = await longChain(tonos, browser, title.id);
  starts.sort((a, b) => a - b);
  const ms = (value: number) => `${Math.round(value)} ms`;
  return [
    {
      what: 'import of ten hours, mono',
      wanted: '60 x real time',
      found: `${Math.round((HOURS * 3600) / importSeconds)} x`,
    },
    { what: 'its page shows the wave', wanted: 'in 2 s', found: ms(openedMs) },
    {
      what: 'zooming from ten hours to samples',
      wanted: '60 frames a second',
      found: `${zooming.framesPerSecond.toFixed(0)}, 95 of 100 within ${ms(zooming.p95Ms)}`,
    },
    {
      what: 'scrolling',
      wanted: '60 frames a second',
      found: `${scrolling.framesPerSecond.toFixed(0)}, 95 of 100 within ${ms(scrolling.p95Ms)}`,
    },
    {
      what: 'click to sound, anywhere in ten hours',
      wanted: 'in 150 ms',
      found: `median ${ms(starts[2])}, worst ${ms(starts[4])}`,
    },
    { what: 'memory of the page', wanted: 'under 300 MB', found: `${Math.round(memory / MEGA)} MB` },
    {
      what: 'peak memory of the server',
      wanted: 'under 500 MB',
      found: `${Math.round(tonos.peakMemoryBytes() / MEGA)} MB`,
    },
    ...chain,
  ];
}

const LONG_CHAIN = [
  ...['dc-removal', 'declip', 'declick', 'hum-removal', 'noise-reduction', 'plosive-removal', 'high-pass', 'low-pass'],
  ...[
    'parametric-eq',
    'point-eq',
    'expander',
    'de-esser',
    'compressor',
    'multiband-compressor',
    'leveller',
    'saturation',
  ],
  ...[
    'high-pass',
    'parametric-eq',
    'compressor',
    'de-esser',
    'point-eq',
    'expander',
    'rms-normalise',
    'gain',
    'limiter',
  ],
];

/** A chain of 25 steps with the ten hours as its example. */
async function longChain(tonos: Tonos, browser: Browser, titleId: string): Promise<Figure[]> {
  const steps = LONG_CHAIN.map((kind, i) => ({ id: `s${i}`, kind, settings: {} }));
  const call = api(tonos);
  const { id } = await call<Named>('POST', '/chains', { format: 'tonos.chain/1', name: 'All of it', steps });
  await call('PATCH', `/titles/${titleId}`, { chainId: id });
  const page = await newPage(browser);
  await page.goto(`${tonos.origin}/chains/${id}`);
  const last = page.getByRole('listitem').filter({ has: page.getByRole('button', { name: /^Limiter/ }) });
  await last
    .getByText(/\u2212\d/)
    .first()
    .waitFor({ timeout: 300_000 });
  await page.waitForTimeout(20_000);
  await page.getByRole('button', { name: /^Gain/ }).click();
  const field = page.getByRole('textbox', { name: 'Gain', exact: true });
  await field.waitFor();
  const waits = await renewalsMs(page, field, last);
  const memory = await memoryOf(page);
  await page.close();
  return [
    {
      what: 'a setting typed to the first new figures, 25 steps, ten hours',
      wanted: 'usable',
      found: `median ${Math.round(waits[2])} ms, worst ${Math.round(waits[4])} ms`,
    },
    {
      what: 'memory of the chain page, 25 steps, ten hours',
      wanted: 'under 350 MB',
      found: `${Math.round(memory / MEGA)} MB`,
    },
  ];
}

/** From a click at a place to the first sample at the sound device. */
export async function startMs(page: Page, x: number, y: number): Promise<number> {
  await page.evaluate(() => {
    const watched = window as unknown as { heard: number[]; clicked: number; sounded: number };
    watched.sounded = 0;
    addEventListener(
      'pointerdown',
      () => {
        watched.clicked = performance.now();
        watched.heard.length = 0;
        const look = () => {
          if (watched.heard.some((sample) => sample !== 0)) watched.sounded = performance.now();
          else setTimeout(look, 2);
        };
        look();
      },
      { once: true, capture: true },
    );
  });
  await page.mouse.click(x, y);
  await page.waitForFunction(() => (window as unknown as { sounded: number }).sounded > 0);
  const took = await page.evaluate(() => {
    const { clicked, sounded } = window as unknown as { clicked: number; sounded: number };
    return sounded - clicked;
  });
  await page.keyboard.press('Space');
  await page.waitForTimeout(400);
  return took;
}
