import { type Browser, expect, type Page, test } from '@playwright/test';
import { Tonos } from './tonos.ts';

let tonos: Tonos;
test.beforeAll(async () => {
  tonos = await Tonos.start({ demo: false });
});
test.afterAll(() => tonos.remove());

const at = async (browser: Browser, path: string): Promise<Page> => {
  const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await page.goto(`${tonos.origin}${path}`);
  return page;
};

test('P1: two people on one chain: who only looks follows, who changes is asked, and nothing is lost', async ({
  browser,
  request,
}) => {
  const steps = [{ id: 'a', kind: 'gain', settings: { gainDb: 0 } }];
  const answer = await request.post(`${tonos.origin}/api/chains`, { data: { name: 'Shared', steps } });
  const { id } = await answer.json();
  const draft = async () => (await (await request.get(`${tonos.origin}/api/chains/${id}`)).json()).draft;
  const [ada, ben] = [await at(browser, `/chains/${id}`), await at(browser, `/chains/${id}`)];
  const open = async (page: Page) => {
    await page.getByRole('button', { name: /^Gain/ }).first().click();
    return page.getByRole('textbox', { name: 'Gain', exact: true });
  };
  const [adas, bens] = [await open(ada), await open(ben)];

  // Ada changes; Ben, who does nothing, sees it, and writes nothing himself
  await adas.fill('3');
  await expect(bens).toHaveValue('3.0');
  await ben.waitForTimeout(1500);
  expect((await draft()).steps[0].settings.gainDb).toBe(3);

  // both change at once: Ben's network is away while Ada saves
  let away = true;
  await ben.route('**/api/chains/**', (route) => (away ? route.abort() : route.continue()));
  await bens.fill('-6');
  await adas.fill('5');
  await expect.poll(async () => (await draft()).steps[0].settings.gainDb).toBe(5);
  away = false;
  await bens.fill('-7');
  const asked = ben.getByRole('alert').filter({ hasText: 'changed this chain while you did' });
  await expect(asked).toBeVisible();
  await expect(bens).toHaveValue('-7.0');
  expect((await draft()).steps[0].settings.gainDb).toBe(5);

  // theirs, and one's own is an undo away
  await asked.getByRole('button', { name: 'Take theirs' }).click();
  await expect(bens).toHaveValue('5.0');
  await ben.getByRole('button', { name: 'Undo' }).click();
  await expect(bens).toHaveValue('-7.0');
  await expect.poll(async () => (await draft()).steps[0].settings.gainDb).toBe(-7);
  await expect(adas).toHaveValue('-7.0');

  // kept at once, before the draft was saved: one does not stand in one's own way, and goes on
  await bens.fill('-8');
  await ben.getByRole('button', { name: 'Keep as revision 2' }).click();
  await ben.getByRole('dialog').getByRole('button', { name: 'Keep', exact: true }).click();
  await expect(ben.getByText('Kept as revision 2.')).toBeVisible();
  await expect(adas).toHaveValue('-8.0');
  await bens.fill('-9');
  await expect.poll(async () => (await draft())?.steps[0].settings.gainDb).toBe(-9);
  await expect(ben.getByRole('alert')).toHaveCount(0);
});

test('P10: seven tabs of one browser share one stream, and each follows what happens; the next one takes it over', async ({
  browser,
  request,
}) => {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  let streams = 0;
  context.on('request', (one) => one.url().endsWith('/api/events') && streams++);
  const tabs: Page[] = [];
  for (let k = 0; k < 7; k++) {
    tabs.push(await context.newPage());
    await tabs[k].goto(`${tonos.origin}/titles`);
    await expect(tabs[k].getByRole('heading', { name: 'Titles' })).toBeVisible();
  }
  expect(streams).toBe(1);
  const add = (name: string) => request.post(`${tonos.origin}/api/titles`, { data: { name, kind: 'podcast' } });
  await add('Told to all');
  for (const tab of tabs) await expect(tab.getByRole('link', { name: 'Told to all' })).toBeVisible();
  // the one that listened goes
  await tabs.shift()!.close();
  await expect.poll(() => streams).toBe(2);
  await add('Told after that');
  for (const tab of tabs) await expect(tab.getByRole('link', { name: 'Told after that' })).toBeVisible();
  await context.close();
});

test('P18: an upload goes on while other pages of the application are looked at', async ({ browser, request }) => {
  const { id } = await (
    await request.post(`${tonos.origin}/api/titles`, { data: { name: 'Slow line', kind: 'podcast' } })
  ).json();
  const page = await at(browser, `/titles/${id}`);
  let letGo = () => {};
  const held = new Promise<void>((resolve) => {
    letGo = resolve;
  });
  await page.route('**/recordings', async (route) => {
    if (route.request().method() === 'POST') await held;
    await route.continue();
  });
  await page
    .locator('input[type=file]')
    .first()
    .setInputFiles(await tonos.voice('slow.wav', 3, 5));
  const uploads = page.getByRole('region', { name: 'Uploads' });
  await expect(uploads.getByText('slow.wav')).toBeVisible();
  await page.getByRole('link', { name: 'Chains', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Chains' })).toBeVisible();
  await expect(uploads.getByRole('button', { name: 'Cancel' })).toBeVisible();
  letGo();
  await expect(uploads).toHaveCount(0);
  await expect(page.getByText('1 file has come in.')).toBeVisible();
});

test('P17: what two people mark in one recording stands side by side, and undo takes back one\u2019s own', async ({
  browser,
  request,
}) => {
  const { id: titleId } = await (
    await request.post(`${tonos.origin}/api/titles`, { data: { name: 'Marked', kind: 'podcast' } })
  ).json();
  const { readFile } = await import('node:fs/promises');
  const buffer = await readFile(await tonos.voice('marked.wav', 6, 8));
  const files = { name: 'marked.wav', mimeType: 'audio/wav', buffer };
  const [{ id }] = await (
    await request.post(`${tonos.origin}/api/titles/${titleId}/recordings`, { multipart: { files } })
  ).json();
  const marks = async () => (await (await request.get(`${tonos.origin}/api/recordings/${id}`)).json()).marks.length;
  await expect
    .poll(async () => (await (await request.get(`${tonos.origin}/api/recordings/${id}`)).json()).status)
    .toBe('ready');
  const [ada, ben] = [await at(browser, `/recordings/${id}`), await at(browser, `/recordings/${id}`)];
  for (const page of [ada, ben]) {
    await expect(page.getByRole('img', { name: /wave/i }).first()).toBeVisible();
    await page.keyboard.press('m');
  }
  await expect.poll(marks).toBe(2);
  await ada.keyboard.press('Control+z');
  await expect.poll(marks).toBe(1);
  await expect(ben.getByRole('textbox', { name: /name/i })).toHaveCount(1);
});
