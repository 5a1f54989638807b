import { type ChildProcess, spawn } from 'node:child_process';
import { join } from 'node:path';
import { expect, type Page, test } from '@playwright/test';
import type { Chain, Outings, Recording, Run } from '@tonos/contract';
import { expectAccessible } from './no-findings.ts';
import { Tonos } from './tonos.ts';

const project = join(import.meta.dirname, '../../..');

let tonos: Tonos;
let program: ChildProcess | undefined;
test.beforeEach(async () => {
  tonos = await Tonos.start({ demo: false });
});
test.afterEach(async () => {
  program?.kill('SIGTERM');
  program = undefined;
  await tonos.remove();
});

const asked =
  (page: Page) =>
  async <T>(path: string, data?: object): Promise<T> =>
    (await page.request.fetch(`${tonos.origin}/api${path}`, data && { method: 'POST', data })).json();

/** The stand-in for another program, at work on this installation's folder. */
function standIn(): void {
  program = spawn(process.execPath, [join(project, 'scripts/demo-outside.mjs')], {
    stdio: ['ignore', 'ignore', 'inherit'],
    env: { ...process.env, TONOS_DATA: join(tonos.folder, 'data'), TONOS_OUTSIDE_LATE_MS: '500' },
  });
}

test('sound goes out from a title and from a step, a program brings it back, and it is taken out again', async ({
  page,
}) => {
  const ask = asked(page);
  const { id: titleId } = await ask<{ id: string }>('/titles', { name: 'The Tide Mill', kind: 'audiobook' });
  await page.goto(`${tonos.origin}/titles/${titleId}`);
  await page
    .locator('input[type=file]')
    .first()
    .setInputFiles([await tonos.voice('One.wav', 6, 5), await tonos.voice('Two.wav', 5, 6)]);
  const recordings = () => ask<Recording[]>(`/titles/${titleId}/recordings`);
  await expect.poll(async () => (await recordings()).map(({ status }) => status)).toEqual(['ready', 'ready']);
  const steps = [
    { id: 'a', kind: 'gain', settings: { gainDb: -3 } },
    { id: 'b', kind: 'gain', settings: { gainDb: 2 } },
  ];
  const chain = await ask<Chain>('/chains', { name: 'Gains', steps });

  // both as they came, from the title
  await page.getByRole('checkbox', { name: 'Choose Two.wav' }).check();
  await page.getByRole('button', { name: 'Send out' }).click();
  await page.getByRole('button', { name: 'See them' }).click();
  await expect(page.getByRole('row', { name: /Two\.wav.*before the chain.*outside/ })).toBeVisible();
  await expectAccessible(page);

  // one behind a step of a chain
  await page.goto(`${tonos.origin}/chains/${chain.id}`);
  await page.getByRole('button', { name: /^Gain/ }).first().click();
  await page.getByRole('button', { name: 'Send out after this step' }).click();
  await expect(page.getByText(/One\.wav: outside/)).toBeVisible();
  standIn();
  await expect(page.getByText(/One\.wav: laid in/)).toBeVisible();
  await expect(page.getByText(/A run of One\.wav takes sound from outside/)).toBeVisible();
  await expect.poll(async () => (await recordings())[1].name).toBe('Two (from outside).wav');

  // a run uses it, and its recipe says so
  const [target] = await ask<{ id: string }[]>('/targets');
  const [one] = await recordings();
  const started = await ask<Run>('/runs', { titleId, recordingIds: [one.id], chainId: chain.id, targetId: target.id });
  await expect.poll(async () => (await ask<Run>(`/runs/${started.id}`)).status).toBe('finished');
  const recipe = await ask<{ frozen?: { stepId: string } }>(`/runs/${started.id}/items/${started.items[0].id}/recipe`);
  expect(recipe.frozen?.stepId).toBe('a');

  // a delivery becomes a recording of its own
  await page.goto(`${tonos.origin}/runs/${started.id}`);
  await page
    .getByRole('button', { name: /^Account of One\.wav|^One\.wav/ })
    .first()
    .click();
  await page.getByRole('button', { name: 'As a recording of its own' }).click();
  await expect.poll(async () => (await recordings()).length).toBe(3);

  await page.goto(`${tonos.origin}/outside`);
  await page
    .getByRole('row', { name: /One\.wav/ })
    .getByRole('button', { name: 'Take out' })
    .click();
  await expect(page.getByRole('row', { name: /One\.wav/ })).toContainText('taken out again');
  const { outings } = await ask<Outings>('/outside');
  expect(outings.map(({ laidIn }) => laidIn).sort()).toEqual([false, true]);
});

test('a step that is held changes without being measured, until it is let go', async ({ page }) => {
  const ask = asked(page);
  const { id: titleId } = await ask<{ id: string }>('/titles', { name: 'The Tide Mill', kind: 'audiobook' });
  await page.goto(`${tonos.origin}/titles/${titleId}`);
  await page
    .locator('input[type=file]')
    .first()
    .setInputFiles(await tonos.voice('One.wav', 6, 5));
  const recordings = () => ask<Recording[]>(`/titles/${titleId}/recordings`);
  await expect.poll(async () => (await recordings())[0]?.status).toBe('ready');
  const lufs = (await recordings())[0].measurement!.integratedLufs!;
  const figure = (value: number) => value.toFixed(1).replace('-', '\u2212');
  const chain = await ask<Chain>('/chains', {
    name: 'Gain',
    steps: [{ id: 'a', kind: 'gain', settings: { gainDb: -3 } }],
  });
  await page.goto(`${tonos.origin}/chains/${chain.id}`);
  const row = page.getByRole('listitem').filter({ has: page.getByRole('button', { name: /^Gain/ }) });
  await expect(row.getByText(figure(lufs - 3), { exact: true }).first()).toBeVisible();
  await page.getByRole('button', { name: /^Gain/ }).click();
  await page.keyboard.press('h');
  await page.getByRole('textbox', { name: 'Gain', exact: true }).fill('4');
  await expect(row.getByText('+4.0 dB')).toBeVisible();
  await expect(row.getByText('held, heard as before:')).toBeVisible();
  await page.waitForTimeout(1500);
  await expect(row.getByText(figure(lufs - 3), { exact: true }).first()).toBeVisible();
  await page.getByRole('button', { name: /^Gain/ }).focus();
  await page.keyboard.press('h');
  await expect(row.getByText(figure(lufs + 4), { exact: true }).first()).toBeVisible();
  // the chain as a whole
  await page.getByRole('button', { name: 'More for this chain' }).click();
  await page.getByRole('menuitem', { name: 'Hold: change without hearing' }).click();
  await page.getByRole('textbox', { name: 'Gain', exact: true }).fill('0');
  await page.waitForTimeout(1500);
  await expect(row.getByText(figure(lufs + 4), { exact: true }).first()).toBeVisible();
  await page.getByRole('button', { name: 'Let it go' }).click();
  await expect(row.getByText(figure(lufs), { exact: true }).first()).toBeVisible();
});
