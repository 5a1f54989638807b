import { expect, test } from '@playwright/test';
import type { Chain, Preset, Recording } from '@tonos/contract';
import { expectAccessible } from './no-findings.ts';
import { Tonos } from './tonos.ts';

let tonos: Tonos;
test.beforeEach(async () => {
  tonos = await Tonos.start({ demo: false });
});
test.afterEach(() => tonos.remove());

test('what lies at a letter is recalled by two keys: into a chain, onto chosen recordings, and for a run', async ({
  page,
}) => {
  const ask = async <T>(path: string, data?: unknown): Promise<T> =>
    (data
      ? await page.request.post(`${tonos.origin}/api${path}`, { data })
      : await page.request.get(`${tonos.origin}/api${path}`)
    ).json();
  const steps = [
    { id: 'hp', kind: 'high-pass', settings: { frequencyHz: 80 } },
    { id: 'comp', kind: 'compressor', settings: { ratio: 2 } },
    { id: 'lim', kind: 'limiter', settings: {} },
  ];
  const studio = await ask<Chain>('/chains', { name: 'Studio', steps });
  const van = await ask<Chain>('/chains', { name: 'Van', steps: [] });
  const preset = { kind: 'high-pass', name: 'On the road', settings: { frequencyHz: 140 } };
  await ask<Preset>('/presets', preset);

  // a part of a chain at the first free letter, for this browser alone
  await page.goto(`${tonos.origin}/chains/${studio.id}`);
  await page.getByRole('button', { name: 'More for this chain' }).click();
  await page.getByRole('menuitem', { name: 'Keep a part of it' }).click();
  await page.getByRole('checkbox', { name: /^High-pass/ }).check();
  await page.getByRole('checkbox', { name: /^Compressor/ }).check();
  await page.getByText('In the index').click();
  await page.getByText('In this browser only').click();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Put it at a' }).click();
  // a preset and a chain for everybody
  for (const [name, letter] of [
    ['On the road', 'b'],
    ['Studio', 'c'],
  ]) {
    await page.getByRole('button', { name: 'Put into the index' }).click();
    await page.getByLabel('Chain or preset').first().fill(name);
    await page.getByRole('option', { name }).click();
    await page.getByRole('button', { name: `Put it at ${letter}` }).click();
    await expect(page.getByRole('dialog')).toBeHidden();
  }
  expect(await ask('/index')).toMatchObject([
    { letter: 'b', name: 'On the road', content: { kind: 'preset' } },
    { letter: 'c', name: 'Studio', content: { kind: 'chain', chainId: studio.id } },
  ]);

  await page.goto(`${tonos.origin}/chains/${van.id}`);
  await expect(page.getByText('No step yet', { exact: false })).toBeVisible();
  await page.keyboard.press('i');
  await page.keyboard.press('a');
  const rows = page.getByRole('listitem').filter({ has: page.getByRole('switch') });
  await expect(rows).toHaveCount(2);
  await page.keyboard.press('i');
  await page.keyboard.press('b');
  await expect(page.getByText('140 Hz, 24 dB per octave')).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(rows).toHaveCount(2);

  // onto recordings, as adjustments of the title's chain
  const title = await ask<{ id: string }>('/titles', { name: 'Ferries', kind: 'podcast' });
  await page.request.patch(`${tonos.origin}/api/titles/${title.id}`, { data: { chainId: studio.id } });
  await page.goto(`${tonos.origin}/titles/${title.id}`);
  await page
    .locator('input[type=file]')
    .first()
    .setInputFiles([await tonos.voice('Bow.wav', 3, 1), await tonos.voice('Stern.wav', 3, 2)]);
  const recordings = () => ask<Recording[]>(`/titles/${title.id}/recordings`);
  await expect.poll(async () => (await recordings()).filter(({ status }) => status === 'ready').length).toBe(2);
  await page.keyboard.press('i');
  await page.keyboard.press('b');
  await expect(page.getByText(/Choose the recordings that/)).toBeVisible();
  await page.getByRole('row', { name: /Bow/ }).getByRole('checkbox').check();
  await page.keyboard.press('i');
  await page.keyboard.press('b');
  await expect(page.getByText('On the road: one recording is adjusted', { exact: false })).toBeVisible();
  const adjusted = async () => (await recordings()).map(({ adjustments }) => adjustments[studio.id] ?? []);
  expect(await adjusted()).toEqual([[{ id: 'hp', settings: { frequencyHz: 140 } }], []]);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(adjusted).toEqual([[], []]);
  await page.keyboard.press('i');
  await page.keyboard.press('c');
  await expect(page.getByRole('dialog')).toContainText('Run 1 recording');
  await expect(page.getByRole('dialog').getByRole('combobox', { name: 'Chain', exact: true })).toHaveValue('Studio');
});
