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
  await ben.route('**/draft', (route) => route.abort());
  await ben.route('**/api/chains/*', (route) => route.abort());
  await bens.fill('-6');
  await adas.fill('5');
  await expect.poll(async () => (await draft()).steps[0].settings.gainDb).toBe(5);
  await ben.unrouteAll();
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
