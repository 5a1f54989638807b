import { expect, type Page, test } from '@playwright/test';
import type { Chain, Recording } from '@tonos/contract';
import { sine } from '@tonos/core/testing';
import { overhear, peakHeard } from './ear.ts';
import { expectAccessible } from './no-findings.ts';
import { Tonos } from './tonos.ts';

// the ear is no file of the server
test.use({ bypassCSP: true });

let tonos: Tonos;
test.beforeEach(async () => {
  tonos = await Tonos.start({ demo: false });
});
test.afterEach(() => tonos.remove());

/** A title with one recording, and a chain; both are there when the page opens. */
async function prepared(page: Page, file: string, steps: unknown[]): Promise<{ recording: Recording; chain: Chain }> {
  await page.goto(`${tonos.origin}/titles`);
  await page.getByRole('button', { name: 'New title' }).click();
  await page.getByLabel('Name').fill('The Tide Mill');
  await page.getByRole('button', { name: 'Make title' }).click();
  await page.locator('input[type=file]').first().setInputFiles(file);
  await expect(page.getByRole('row').filter({ hasText: 'wav' }).first()).toBeVisible();
  const ask = async <T>(path: string, data?: unknown): Promise<T> =>
    (data
      ? await page.request.post(`${tonos.origin}/api${path}`, { data })
      : await page.request.get(`${tonos.origin}/api${path}`)
    ).json();
  const [title] = await ask<{ id: string }[]>('/titles');
  const chain = await ask<Chain>('/chains', { name: 'By hand', steps });
  await expect.poll(async () => (await ask<Recording[]>(`/titles/${title.id}/recordings`))[0]?.status).toBe('ready');
  const [recording] = await ask<Recording[]>(`/titles/${title.id}/recordings`);
  await page.goto(`${tonos.origin}/chains/${chain.id}`);
  return { recording, chain };
}

const row = (page: Page, name: string) =>
  page.getByRole('listitem').filter({ has: page.getByRole('button', { name: new RegExp(`^${name}`) }) });

test('a chain is built by its figures: eight steps, their account, a point that is dragged, advice that is followed', async ({
  page,
}) => {
  const { recording, chain } = await prepared(page, await tonos.voice('Mill.wav', 12, 5), []);
  const figure = (value: number) => value.toFixed(1).replace('-', '\u2212');
  await expect(page.getByText('recording as it came, measured whole')).toBeVisible();
  await expect(page.getByText(figure(recording.measurement!.integratedLufs!)).first()).toBeVisible();

  for (const [typed, kind] of [
    ['hiss', 'Noise reduction'],
    ['rumble', 'High-pass'],
    ['muddy', 'Parametric EQ'],
    ['draw', 'Point EQ'],
    ['too sharp s', 'De-esser'],
    ['squeeze', 'Compressor'],
    ['loud enough', 'Loudness normalise'],
    ['ceiling', 'Limiter'],
  ]) {
    const add = page.getByRole('combobox', { name: 'Add a step' });
    await add.fill(typed);
    const option = page.getByRole('option', { name: new RegExp(`^${kind}`) });
    if (!(await option.count())) await add.fill(kind);
    // what Enter would take is marked as soon as it is found
    await expect(page.locator('[role=option][data-combobox-selected]')).toHaveCount(1);
    await option.click();
    await page.keyboard.press('Escape');
  }
  await expect(page.getByRole('list').first().getByRole('listitem')).toHaveCount(8);
  // a step is copied, pasted after itself, and given up again
  await page.getByRole('button', { name: /^Limiter/ }).focus();
  await page.keyboard.press('Control+c');
  await page.keyboard.press('Control+v');
  await expect(page.getByRole('list').first().getByRole('listitem')).toHaveCount(9);
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('list').first().getByRole('listitem')).toHaveCount(8);
  // the loudness step brings it to where it says, and the account shows it
  await expect(row(page, 'Loudness normalise').getByText('\u221216.0').first()).toBeVisible();

  await page.getByRole('button', { name: /^Parametric EQ/ }).click();
  await page.getByRole('button', { name: 'Add band' }).click();
  const point = page.getByRole('slider', { name: 'Band 1', exact: true });
  const box = (await point.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x - 60, box.y + 40, { steps: 6 });
  await page.mouse.up();
  await expect(row(page, 'Parametric EQ').getByText(/^\u2212\d\.\d dB at \d{3} Hz$/)).toBeVisible();
  await point.focus();
  await page.keyboard.press('ArrowUp');
  const draft = async () =>
    (await (await page.request.get(`${tonos.origin}/api/chains/${chain.id}`)).json()).draft as Chain['draft'];
  const band = async () =>
    ((await draft())?.steps[2].settings.bands as { frequencyHz: number; gainDb: number }[] | undefined)?.[0];
  await expect.poll(async () => (await band())?.gainDb ?? 0).toBeLessThan(-1);
  await expectAccessible(page);

  // the high-pass is carried behind the compressor: its rumble would drive it
  await page.getByRole('button', { name: /^High-pass/ }).focus();
  for (let i = 0; i < 4; i++) await page.keyboard.press('Alt+ArrowDown');
  await expect(page.getByText(/Rumble below 80 Hz still drives/)).toBeVisible();
  await page.getByRole('button', { name: 'Do it' }).first().click();
  await expect(page.getByText(/Rumble below 80 Hz still drives/)).toBeHidden();
  await page.keyboard.press('Control+z');
  await expect(page.getByText(/Rumble below 80 Hz still drives/)).toBeVisible();
  await page.getByRole('button', { name: 'Not for me' }).first().click();
  await expect(page.getByText(/Rumble below 80 Hz still drives/)).toBeHidden();

  await page.getByRole('button', { name: 'Keep as revision 2' }).click();
  await page.getByRole('dialog').getByRole('button', { name: /Keep/ }).click();
  await expect(page.getByText('revision 2', { exact: false }).first()).toBeVisible();
});

test('what a chain makes of its example is heard while it is edited', async ({ page }) => {
  await overhear(page);
  const rate = 48000;
  const tone = await tonos.wav('Tone.wav', rate, sine(500, 0.25, 240, rate));
  await prepared(page, tone, [
    { id: 'a', kind: 'gain', settings: { gainDb: -6 } },
    { id: 'b', kind: 'gain', settings: { gainDb: -6 } },
  ]);
  const db = (gain: number) => 0.25 * 10 ** (gain / 20);
  const heard = (peak: number) =>
    expect.poll(async () => Math.abs((await peakHeard(page, 9600)) - peak)).toBeLessThan(0.002);
  await expect(page.getByText('recording as it came, measured whole')).toBeVisible();
  await page.getByRole('button', { name: 'Play the example through the chain' }).click();
  // level-matched, the louder source comes down to the chain, and the chain stays as it is
  await heard(db(-12));
  await page.getByText('Source', { exact: true }).click();
  await heard(db(-12));
  await page.getByRole('switch', { name: /level-matched/ }).click();
  await heard(db(0));
  await page.getByText('Whole chain').click();
  await heard(db(-12));
  await page.getByRole('button', { name: /^Gain/ }).first().click();
  await page.getByText('So far').click();
  await heard(db(-6));
  await page.getByText('Removed').click();
  await heard(db(0) - db(-6));
  await page.getByText('Whole chain').click();

  // a figure that is typed is heard at once, and a step that is switched off is not heard any more
  await page.getByRole('textbox', { name: 'Gain', exact: true }).fill('0');
  await heard(db(-6));
  await page.getByRole('button', { name: /^Gain/ }).nth(1).focus();
  await page.keyboard.press('o');
  await heard(db(0));
  await page.keyboard.press('Control+z');
  await heard(db(-6));
});
