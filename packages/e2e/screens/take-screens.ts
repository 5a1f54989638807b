import { copyFile, readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { chromium, expect, type Page } from '@playwright/test';
import type { ChainSummary, Recording, Run, RunSummary, WorkerTokenMade } from '@tonos/contract';
import { api } from '../flows/api.ts';
import { Tonos } from '../flows/tonos.ts';
import config from '../playwright.config.ts';

/** `npm run screens`: one picture of each main view, from the demo, into docs/screenshots. */
const folder = join(import.meta.dirname, '../../../docs/screenshots');
const tonos = await Tonos.start({ demo: true });
const browser = await chromium.launch(config.use!.launchOptions);

async function withPage(
  colorScheme: 'light' | 'dark',
  work: (page: Page, shot: (name: string) => Promise<void>) => Promise<void>,
) {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme });
  await work(page, async (name) => {
    await page.waitForTimeout(700); // fonts and pictures settle
    await page.screenshot({ path: join(folder, `${name}.png`) });
  });
  await page.close();
}

const open = async (page: Page, ...links: string[]) => {
  await page.goto(`${tonos.origin}/titles`);
  for (const name of links) {
    await page.getByRole('link', { name, exact: true }).first().click();
    // its page may still be on its way, and the one before has links of the same name
    await page.getByRole('heading', { level: 1, name, exact: true }).waitFor();
  }
};

/** Chooses a stretch of a picture, by shares of its width and height. */
async function drag(page: Page, name: string, from: [number, number], to: [number, number]): Promise<void> {
  const box = (await page.getByRole('img', { name, exact: true }).boundingBox())!;
  await page.mouse.move(box.x + from[0] * box.width, box.y + from[1] * box.height);
  await page.mouse.down();
  await page.mouse.move(box.x + to[0] * box.width, box.y + to[1] * box.height, { steps: 5 });
  await page.mouse.up();
}

try {
  await withPage('light', async (page, shot) => {
    await open(page, 'Runs', 'The Salt Road Almanac');
    await page.getByText('Noise floor over by 3.2 dB').waitFor({ timeout: 120_000 });
    await page.getByText('4 within', { exact: true }).waitFor({ timeout: 120_000 });
    await page.getByRole('button', { name: 'Play 04 Two lanterns.flac' }).click();
    await page.waitForTimeout(2500);
    await page.keyboard.press('Space');
    await shot('run-board');
    await open(page, 'Today');
    await shot('today');
    await open(page);
    await shot('titles');
    await open(page, 'Night Shift at the Observatory');
    await page.getByText('band limited').first().waitFor();
    await shot('title');
    await page.getByRole('link', { name: 'Weekly episode' }).click();
    await page.getByRole('button', { name: /^Body, / }).click();
    await page
      .getByRole('row', { name: /^1 Opening/ })
      .getByText('\u221220.0')
      .waitFor({ timeout: 60_000 });
    await shot('running-order');
    await open(page, 'Night Shift at the Observatory');
    await page.getByRole('button', { name: 'Propose a chain' }).click();
    await page.getByRole('list', { name: 'Proposed steps' }).waitFor();
    await shot('propose');
    await page.getByRole('button', { name: 'Not now' }).click();
    await open(page, 'The Ferry House');
    for (const name of ['1 Host microphone.flac', '2 Guest microphone.flac'])
      await page.getByRole('checkbox', { name: `Choose ${name}` }).check();
    await page.getByRole('button', { name: 'Link as one session' }).click();
    await page.getByRole('region', { name: 'Linked sets' }).waitFor();
    await page.getByRole('link', { name: '1 Host microphone.flac' }).first().click();
    await page.getByRole('img', { name: 'Wave of 2 Guest microphone.flac' }).waitFor();
    await page.waitForTimeout(2500);
    await drag(page, 'Wave', [0.034, 0.4], [0.165, 0.4]);
    await page.keyboard.press('q');
    await drag(page, 'Wave', [0.62, 0.4], [0.66, 0.4]);
    await page.keyboard.press('d');
    await drag(page, 'Wave', [0.36, 0.4], [0.47, 0.4]);
    await page.keyboard.press('l');
    await page.waitForTimeout(3000);
    await shot('bench');
    await page.keyboard.press('Space');
    await open(page, 'Night Shift at the Observatory');
    await page.getByRole('button', { name: 'Run all' }).click();
    await page.getByText('takes a few seconds').waitFor({ timeout: 60_000 });
    await shot('start-run');
    await open(page, 'The Salt Road Almanac');
    await page.getByRole('link', { name: 'Figures' }).click();
    await page.getByText('stand out').or(page.getByText('None stands out')).waitFor();
    await shot('figures');
    await open(page, 'Targets');
    await shot('targets');
    await open(page, 'Chains');
    await page.getByRole('link', { name: 'Modules' }).click();
    await page.getByRole('row', { name: /Tilt/ }).waitFor();
    await shot('modules');
    await open(page, 'Storage');
    await page.getByRole('button', { name: 'Check every file' }).click();
    await page.getByText(/files are what they were/).waitFor();
    await shot('storage');
    await open(page, 'Chains');
    await page.getByText('For a quiet booth').waitFor();
    await shot('chains');
    await open(page, 'Chains', 'Narration, close microphone');
    await page.getByText('measured whole').waitFor();
    await page.getByRole('button', { name: /^Compressor/ }).click();
    await page.getByRole('button', { name: 'Play the example through the chain' }).click();
    await page.waitForTimeout(2500);
    await page.getByText(/while it works/).waitFor({ timeout: 60_000 });
    await shot('chain');
    await page.keyboard.press('Space');
    await page.getByRole('button', { name: /^High-pass/ }).click();
    await page.getByRole('button', { name: 'Send out after this step' }).click();
    await page.getByText(/The salt road\.flac: outside/).waitFor();
    await open(page, 'The Salt Road Almanac');
    for (const name of ['02 A measure of light.flac', '03 The weighing house.flac'])
      await page.getByRole('checkbox', { name: `Choose ${name}` }).check();
    await page.getByRole('button', { name: 'Send out' }).click();
    const exchange = join(tonos.folder, 'data/exchange');
    const isOut = async (name: string) =>
      (await readdir(join(exchange, 'out'))).find((one) => one.includes(name) && one.endsWith('.wav'));
    await expect.poll(async () => isOut('03 The weighing house')).toBeTruthy();
    for (const name of ['after High-pass', '02 A measure'])
      await copyFile(join(exchange, 'out', (await isOut(name))!), join(exchange, 'back', (await isOut(name))!));
    await page.getByRole('button', { name: 'See them' }).last().click();
    await expect(page.getByRole('button', { name: 'Take out' })).toHaveCount(2);
    await shot('outside');
    // all is as it was for what comes next
    for (let left = 1; left >= 0; left--) {
      await page.getByRole('button', { name: 'Take out' }).first().click();
      await expect(page.getByRole('button', { name: 'Take out' })).toHaveCount(left);
    }
  });
  await withPage('dark', async (page, shot) => {
    await open(page, 'Runs', 'The Salt Road Almanac');
    await page.getByRole('button', { name: '02 A measure of light.flac', exact: true }).click();
    await shot('item-dark');
  });
  await withPage('light', async (page, shot) => {
    const call = api(tonos);
    const { token } = await call<WorkerTokenMade>('POST', '/worker-tokens', { name: 'studio basement' });
    for (const name of ['North room', 'South room']) tonos.worker(name, token);
    await page.goto(`${tonos.origin}/machines`);
    for (const name of ['North room', 'South room'])
      await expect(page.getByRole('row', { name })).toContainText('ready');
    const runs = await call<RunSummary[]>('GET', '/runs');
    const { titleId, chainId, targetId } = runs.find(({ orderId }) => orderId === null)!;
    const recordings = await call<Recording[]>('GET', `/titles/${titleId}/recordings`);
    const asks = { titleId, chainId, targetId, recordingIds: recordings.map(({ id }) => id) };
    const { id } = await call<Run>('POST', '/runs', asks);
    await expect(page.getByRole('row', { name: 'North room' })).toContainText('real time', { timeout: 120_000 });
    await shot('machines');
    await call('POST', `/runs/${id}/cancel`);
  });

  await withPage('light', async (page, shot) => {
    const ask = async <T>(path: string, data?: unknown): Promise<T> =>
      (data
        ? await page.request.post(`${tonos.origin}/api${path}`, { data })
        : await page.request.get(`${tonos.origin}/api${path}`)
      ).json();
    const [{ id }] = await ask<RunSummary[]>('/runs');
    const { titleId, targetId, chainId, items } = await ask<Run>(`/runs/${id}`);
    const other = (await ask<ChainSummary[]>('/chains')).find((one) => one.name === 'Narration, repair')!;
    const recordingIds = items.map(({ recordingId }) => recordingId);
    const second = await ask<Run>('/runs', { titleId, recordingIds, targetId, chainId: other.id });
    while ((await ask<Run>(`/runs/${second.id}`)).status !== 'finished') await page.waitForTimeout(500);
    await page.request.put(`${tonos.origin}/api/index/n`, {
      data: { name: 'Narration', content: { kind: 'chain', chainId } },
    });
    await page.goto(`${tonos.origin}/runs/${id}/beside/${second.id}`);
    await page.getByText('Recording', { exact: true }).waitFor();
    await shot('runs-beside');
  });
  const team = await Tonos.start({ demo: false, shared: true });
  try {
    await withPage('dark', async (page, shot) => {
      const password = 'seven herons at low tide';
      const post = async <T>(path: string, data: object): Promise<T> =>
        (await page.request.post(`${team.origin}/api${path}`, { data, headers: { origin: team.origin } })).json();
      const token = (url: string) => new URL(url).searchParams.get('token');
      await post('/setup', { token: token(team.setUpUrl), name: 'Odile Brandt', password });
      const colleagues = [
        ['Mira Osten', 'lead'],
        ['Tamsin Adler', 'engineer'],
        ['Joost Ferrand', 'engineer'],
        ['Lev Ostrander', 'listener'],
      ];
      for (const [name, role] of colleagues) {
        const { url } = await post<{ url: string }>('/invitations', { role });
        const other = await browser.newContext();
        const data = { token: token(url), name, password };
        await other.request.post(`${team.origin}/api/invitations/accept`, { data, headers: { origin: team.origin } });
        await other.close();
      }
      await post('/invitations', { role: 'engineer' });
      await page.goto(`${team.origin}/people`);
      await page.getByRole('row', { name: /Lev Ostrander/ }).waitFor();
      await shot('people');
    });
  } finally {
    await team.remove();
  }
} finally {
  await browser.close();
  await tonos.remove();
}
