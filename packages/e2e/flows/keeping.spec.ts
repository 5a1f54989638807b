import { readFile } from 'node:fs/promises';
import { expect, test } from '@playwright/test';
import type { Chain, Recording, Run } from '@tonos/contract';
import { expectAccessible } from './no-findings.ts';
import { Tonos } from './tonos.ts';

let tonos: Tonos;
test.beforeEach(async () => {
  tonos = await Tonos.start({ demo: false });
});
test.afterEach(() => tonos.remove());

test('a chain is kept, compared, branched, exported and brought in again; settings are kept as a preset', async ({
  page,
}) => {
  const made = await page.request.post(`${tonos.origin}/api/chains`, {
    data: { name: 'Studio', steps: [{ id: 'hp', kind: 'high-pass', settings: { frequencyHz: 80 } }] },
  });
  const { id } = (await made.json()) as Chain;
  await page.goto(`${tonos.origin}/chains/${id}`);
  await page.getByRole('button', { name: /^High-pass/ }).click();
  await page.getByRole('textbox', { name: 'Frequency' }).fill('110');
  await page.getByRole('button', { name: 'Keep these settings as a preset' }).click();
  await page.getByRole('textbox', { name: 'Name', exact: true }).fill('Our van');
  await page.getByRole('button', { name: 'Keep as new' }).click();
  await expect(page.getByText('Our van is kept.')).toBeVisible();
  await page.getByRole('textbox', { name: 'Frequency' }).fill('90');
  await page.getByRole('combobox', { name: 'Preset' }).click();
  await page.getByRole('option', { name: 'Our van' }).click();
  await expect(page.getByText('110 Hz, 24 dB per octave')).toBeVisible();
  await page.getByRole('button', { name: 'Keep as revision 2' }).click();
  await page.getByRole('textbox', { name: 'Note', exact: true }).fill('For the van');
  await page.getByRole('dialog').getByRole('button', { name: 'Keep', exact: true }).click();

  await page.getByRole('button', { name: 'Compare' }).last().click();
  await expect(page.getByText('frequency 80\u2009Hz \u2192 110\u2009Hz')).toBeVisible();
  await expectAccessible(page);

  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page
      .getByRole('button', { name: 'More for this chain' })
      .click()
      .then(() => page.getByRole('menuitem', { name: 'Export as a file' }).click()),
  ]);
  const file = await download.path();
  expect(JSON.parse(await readFile(file, 'utf8'))).toMatchObject({
    format: 'tonos.chain/1',
    name: 'Studio',
    steps: [{ kind: 'high-pass', settings: { frequencyHz: 110 } }],
  });
  await page.getByRole('button', { name: 'More for this chain' }).click();
  await page.getByRole('menuitem', { name: 'Keep as a new chain' }).click();
  await expect(page.getByRole('heading', { name: 'Studio, branch' })).toBeVisible();

  await page.getByRole('link', { name: 'Chains', exact: true }).click();
  await page
    .locator('input[type=file]')
    .setInputFiles({ name: 'studio.json', mimeType: 'application/json', buffer: await readFile(file) });
  await expect(page.getByText('Keep it as revision 3 of that one: 0 steps differ')).toBeVisible();
  await page.getByLabel('Keep it as another chain of the same name').check();
  await page.getByRole('button', { name: 'Bring in' }).click();
  await expect(page.getByRole('heading', { name: 'Studio', exact: true })).toBeVisible();
  await page.getByRole('link', { name: 'Chains', exact: true }).click();
  await expect(page.getByRole('row')).toHaveCount(4);
  await page.getByLabel('Find a chain').fill('branch');
  await expect(page.getByRole('row')).toHaveCount(2);
});

test('recordings are adjusted together, a run is foretold, an exception is accepted, and the delivery tells of it', async ({
  page,
}) => {
  await page.goto(`${tonos.origin}/titles`);
  await page.getByRole('button', { name: 'New title' }).click();
  await page.getByLabel('Name').fill('The Weir');
  await page.getByRole('button', { name: 'Make title' }).click();
  const files = await Promise.all([1, 2, 3].map((n) => tonos.voice(`${n} Take.wav`, 6, 20 + n)));
  await page.locator('input[type=file]').first().setInputFiles(files);
  const ask = async <T>(path: string): Promise<T> => (await page.request.get(`${tonos.origin}/api${path}`)).json();
  const titleId = page.url().split('/').at(-1)!;
  const recordings = () => ask<Recording[]>(`/titles/${titleId}/recordings`);
  await expect.poll(async () => (await recordings()).filter(({ status }) => status === 'ready').length).toBe(3);
  await page.request.post(`${tonos.origin}/api/chains`, {
    data: { name: 'House', steps: [{ id: 'nr', kind: 'noise-reduction', settings: { reductionDb: 6 } }] },
  });
  await page.request.post(`${tonos.origin}/api/targets`, {
    data: {
      name: 'Short',
      limits: [
        { measure: 'integratedLufs', min: -17, max: -15, aim: -16 },
        { measure: 'durationSeconds', max: 5 },
      ],
      output: { container: 'flac', bitDepth: 16 },
      naming: '{album} {track}',
    },
  });

  for (const name of ['1 Take.wav', '2 Take.wav', '3 Take.wav']) await page.getByLabel(`Choose ${name}`).click();
  await page.getByRole('button', { name: 'Adjust the chain' }).click();
  await page.getByRole('textbox', { name: 'Reduction' }).fill('18');
  await page.getByRole('textbox', { name: 'Reduction' }).press('Enter');
  await expect(page.getByRole('button', { name: 'As in the chain' })).toBeVisible();
  await expect
    .poll(async () => (await recordings()).map(({ adjustments }) => Object.values(adjustments)[0]?.[0].settings))
    .toEqual([1, 2, 3].map(() => ({ reductionDb: 18 })));
  await page.keyboard.press('Escape');

  await page.getByRole('button', { name: 'Run 3 chosen' }).click();
  await page.getByRole('combobox', { name: 'Chain', exact: true }).click();
  await page.getByRole('option', { name: 'House' }).click();
  await page.getByRole('combobox', { name: 'Target', exact: true }).click();
  await page.getByRole('option', { name: 'Short', exact: true }).click();
  await expect(page.getByText('3 off target')).toBeVisible();
  await expect(page.getByText(/it must be divided/).first()).toBeVisible();
  await page.getByRole('button', { name: 'Start run' }).click();
  await expect(page.getByText('3 off target')).toBeVisible();
  await page.getByRole('button', { name: '1 Take.wav', exact: true }).click();
  await page.getByLabel('Why 1 Take.wav is delivered off target').fill('The long version was ordered.');
  await page.getByRole('button', { name: 'Accept with this reason' }).click();
  await expect(page.getByText(/Accepted .*: The long version was ordered\./)).toBeVisible();
  const [{ id }] = await ask<Run[]>('/runs');
  const bag = await (await page.request.get(`${tonos.origin}/api/runs/${id}/package`)).body();
  const text = bag.toString('latin1');
  for (const part of ['data/The Weir 01.flac', 'data/report.pdf', 'The long version was ordered.'])
    expect(text).toContain(part);
  expect(text).not.toContain('data/The Weir 02.flac');
});
