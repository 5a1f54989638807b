import { join } from 'node:path';
import { expect, type Page, test } from '@playwright/test';
import type { Chain, Recording } from '@tonos/contract';
import { code, handmadeModule, sine, wasmTypes } from '@tonos/core/testing';
import { overhear, peakHeard } from './ear.ts';
import { expectAccessible } from './no-findings.ts';
import { Tonos } from './tonos.ts';

// the ear is no file of the server
test.use({ bypassCSP: true });

const TILT = join(import.meta.dirname, '../../module-kit/tilt/tilt.wasm');
const { I32, F64 } = wasmTypes;
/** Never comes back at 11025 Hz, and leaves everything as it is otherwise. */
const SLY = handmadeModule({
  functions: {
    prepare: {
      params: [F64, I32, I32],
      results: [I32],
      code: [...code.i32(8), ...code.local(0), ...code.storeF64, ...code.i32(0)],
    },
    process: {
      params: [I32],
      code: [...code.i32(8), ...code.loadF64, ...code.f64(11025), 0x61, 0x04, 0x40, ...code.forEver, 0x0b],
    },
  },
});

let tonos: Tonos;
test.beforeEach(async () => {
  tonos = await Tonos.start({ demo: false });
});
test.afterEach(() => tonos.remove());

async function exampleAndChain(page: Page, rate: number): Promise<Chain> {
  const file = await tonos.wav('Tone.wav', rate, sine(4000, 0.1, 60, rate));
  const ask = async <T>(path: string, data?: object): Promise<T> =>
    (await page.request.fetch(`${tonos.origin}/api${path}`, data && { method: 'POST', data })).json();
  const { id } = await ask<{ id: string }>('/titles', { name: 'The Tide Mill', kind: 'audiobook' });
  await page.goto(`${tonos.origin}/titles/${id}`);
  await page.locator('input[type=file]').first().setInputFiles(file);
  await expect.poll(async () => (await ask<Recording[]>(`/titles/${id}/recordings`))[0]?.status).toBe('ready');
  const chain = await ask<Chain>('/chains', { name: 'Own', steps: [] });
  await page.goto(`${tonos.origin}/chains/${chain.id}`);
  return chain;
}

const bringIn = async (page: Page, file: string | { name: string; mimeType: string; buffer: Buffer }) => {
  await page.goto(`${tonos.origin}/chains`);
  await page.getByRole('link', { name: 'Modules' }).click();
  await page.getByRole('heading', { level: 1, name: 'Modules' }).waitFor();
  await page.locator('input[type=file]').setInputFiles(file);
};

const takeStep = async (page: Page, name: string) => {
  await page.getByRole('combobox', { name: 'Add a step' }).fill(name);
  await page.getByRole('option', { name: new RegExp(`^${name} module`) }).click();
  await page.keyboard.press('Escape');
};

test('a module is brought in, set, measured and heard; on a second installation it is missing', async ({ page }) => {
  await overhear(page);
  await bringIn(page, { name: 'note.txt', mimeType: 'text/plain', buffer: Buffer.from('hello') });
  await expect(page.getByRole('alert')).toContainText('note.txt: this is no WebAssembly module');
  await bringIn(page, TILT);
  await expect(page.getByRole('row', { name: /Tilt 1\.0/ })).toContainText('Pivot 200 to 5000 Hz');
  await expectAccessible(page);

  const chain = await exampleAndChain(page, 48000);
  await takeStep(page, 'Tilt');
  await page.getByRole('textbox', { name: 'Tilt' }).fill('-12');
  await page.keyboard.press('Enter');
  // |H| = |j A s + 1| / |j s + A|, A = 10^0.3, where the bilinear transform puts 4 kHz: s = 4.09. 5.14 dB under an RMS of -23.01
  const row = page.getByRole('listitem').filter({ has: page.getByRole('button', { name: /^Tilt/ }) });
  await expect(row.getByText('\u221228.1', { exact: true }).first()).toBeVisible();
  await page.getByRole('button', { name: 'Play the example through the chain' }).click();
  // level-matched, the chain that is quieter stays as it is
  await expect.poll(async () => Math.abs((await peakHeard(page, 9600)) - 0.0554)).toBeLessThan(0.001);
  await page.keyboard.press('Space');
  await expectAccessible(page);

  await expect
    .poll(
      async () => ((await (await page.request.get(`${tonos.origin}/api/chains/${chain.id}`)).json()) as Chain).draft,
    )
    .toMatchObject({ steps: [{ kind: 'custom', settings: { tiltDb: -12 } }] });
  const { draft } = (await (await page.request.get(`${tonos.origin}/api/chains/${chain.id}`)).json()) as Chain;
  const elsewhere = await Tonos.start({ demo: false });
  try {
    const kept = await page.request.post(`${elsewhere.origin}/api/chains`, {
      data: { name: 'Own', steps: draft!.steps },
    });
    await page.goto(`${elsewhere.origin}/chains/${((await kept.json()) as Chain).id}`);
    await page.getByRole('button', { name: /^Tilt/ }).click();
    await expect(page.getByText('“Tilt” 1.0 is not in the library here.')).toBeVisible();
    await page.getByRole('link', { name: 'Bring it in' }).click();
    await page.locator('input[type=file]').setInputFiles(TILT);
    await page.goBack();
    await expect(page.getByText('tilt \u221212.0 dB, pivot 1000 Hz')).toBeVisible();
  } finally {
    await elsewhere.remove();
  }
});

test('one that does not come back never holds the page, and its step is left out', async ({ page }) => {
  await bringIn(page, { name: 'sly.wasm', mimeType: 'application/wasm', buffer: Buffer.from(SLY) });
  await expect(page.getByRole('row', { name: /Handmade 1\.0/ })).toBeVisible();
  await exampleAndChain(page, 11025);
  await takeStep(page, 'Handmade');
  // the longest that the page itself could not answer
  const longest = page.evaluate(async () => {
    let most = 0;
    let last = performance.now();
    for (const end = last + 8000; last < end; ) {
      await new Promise((resolve) => setTimeout(resolve, 20));
      most = Math.max(most, performance.now() - last);
      last = performance.now();
    }
    return most;
  });
  await expect(page.getByText(/“Handmade” 1\.0 did not come back, and was ended/)).toBeVisible({ timeout: 20_000 });
  expect(await longest).toBeLessThan(1000);
  // what is beside it goes on: another step is measured by a new worker
  await page.getByRole('combobox', { name: 'Add a step' }).fill('gain');
  await page.getByRole('option', { name: /^Gain/ }).click();
  const gain = page.getByRole('listitem').filter({ has: page.getByRole('button', { name: /^Gain/ }) });
  await expect(gain.getByText('\u221223.0', { exact: true }).first()).toBeVisible();
});
