import { type Browser, expect, type Page, test } from '@playwright/test';
import { Tonos } from './tonos.ts';

/** Three people, each with a browser of their own. */

let tonos: Tonos;
test.beforeAll(async () => {
  tonos = await Tonos.start({ demo: false, shared: true });
});
test.afterAll(() => tonos.remove());

const fresh = async (browser: Browser): Promise<Page> =>
  (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();

async function enter(page: Page, url: string, name: string, act: string): Promise<Page> {
  await page.goto(url);
  await page.getByLabel('Name').fill(name);
  await page.getByRole('textbox', { name: 'Password' }).fill('seven herons at low tide');
  await page.getByRole('button', { name: act, exact: true }).click();
  await page.getByRole('link', { name: new RegExp(name) }).waitFor();
  return page;
}

/** An owner makes the link on the page People; who gets it follows it. */
async function invited(browser: Browser, owner: Page, name: string, role: string): Promise<Page> {
  await owner.getByRole('link', { name: 'People' }).click();
  await owner.getByRole('button', { name: 'Invite' }).click();
  await owner.getByRole('combobox', { name: 'They join as' }).click();
  await owner.getByRole('option', { name: new RegExp(`^${role}:`) }).click();
  await owner.getByRole('button', { name: 'Make a link' }).click();
  const url = await owner.getByRole('textbox', { name: 'Link' }).inputValue();
  await owner.getByRole('button', { name: 'Done' }).click();
  return enter(await fresh(browser), url, name, 'Join');
}

const call = (page: Page, method: string, path: string, body?: object) =>
  page.evaluate(
    async ([how, where, what]) => {
      const headers = { 'content-type': 'application/json' };
      const answer = await fetch(`/api${where}`, { method: how, headers, body: what });
      const text = await answer.text();
      return { status: answer.status, body: text ? JSON.parse(text) : undefined };
    },
    [method, path, body && JSON.stringify(body)] as const,
  );

test('three people on one chain: drafts of their own, both changes in one, approved, and one is lowered while looking', async ({
  browser,
}) => {
  const stranger = await fresh(browser);
  await stranger.goto(`${tonos.origin}/chains`);
  await expect(stranger.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  const odile = await enter(await fresh(browser), tonos.setUpUrl, 'Odile Brandt', 'Begin');
  expect(odile.url()).not.toContain('token');
  const tamsin = await invited(browser, odile, 'Tamsin Adler', 'engineer');
  const mira = await invited(browser, odile, 'Mira Osten', 'lead');
  await expect(odile.getByRole('row', { name: /Mira Osten lead/ })).toBeVisible();

  const steps = ['a', 'b'].map((id) => ({ id, kind: 'gain', settings: { gainDb: 0 } }));
  const { id } = (await call(odile, 'POST', '/chains', { name: 'Shared', steps })).body;
  for (const page of [tamsin, mira]) await page.goto(`${tonos.origin}/chains/${id}`);
  await expect(mira.getByRole('status').filter({ hasText: 'Tamsin Adler is here too' })).toBeVisible();

  // each changes another step: neither sees the other's draft, both see that there is one
  const change = async (page: Page, place: number, value: string) => {
    await page.getByRole('button', { name: /^Gain/ }).nth(place).click();
    await page.getByRole('textbox', { name: 'Gain', exact: true }).fill(value);
    await page.getByRole('button', { name: /^Gain/ }).nth(place).click();
  };
  await change(tamsin, 0, '3');
  await expect(mira.getByRole('status').filter({ hasText: 'Tamsin Adler has a draft' })).toBeVisible();
  await change(mira, 1, '-2');
  await expect(tamsin.getByRole('status').filter({ hasText: 'Mira Osten has a draft' })).toBeVisible();

  // Mira keeps hers; Tamsin is shown both changes and takes both
  await mira.getByRole('button', { name: 'Keep as revision 2' }).click();
  await mira.getByRole('textbox', { name: 'Note', exact: true }).fill('Down a little');
  await mira.getByRole('button', { name: 'Keep', exact: true }).click();
  const both = tamsin.getByRole('region', { name: 'Two changes' });
  await expect(both).toContainText('Mira Osten kept revision 2 while you worked on revision 1', { timeout: 5000 });
  await expect(both).toContainText('“Down a little”');
  await expect(tamsin.getByRole('button', { name: 'Keep as revision 3' })).toBeDisabled();
  await both.getByRole('button', { name: 'Take both' }).click();
  await expect(both).toHaveCount(0);
  await tamsin.getByRole('button', { name: 'Keep as revision 3' }).click();
  await tamsin.getByRole('button', { name: 'Keep', exact: true }).click();
  await expect(tamsin.getByText('Kept as revision 3.')).toBeVisible();
  const kept = (await call(odile, 'GET', `/chains/${id}`)).body;
  expect(kept.steps.map(({ settings }: { settings: { gainDb: number } }) => settings.gainDb)).toEqual([3, -2]);

  // Mira stands for it; it shows where Tamsin looks, who may keep no more of it then
  await mira.getByRole('button', { name: 'Approve', exact: true }).first().click();
  await mira.getByLabel('In a sentence').fill('Heard on two voices.');
  await mira.getByRole('dialog').getByRole('button', { name: 'Approve' }).click();
  await expect(tamsin.getByText('approved by Mira Osten: Heard on two voices.')).toBeVisible({ timeout: 5000 });
  await expect(tamsin.getByRole('button', { name: 'Approve' })).toHaveCount(0);

  // Mira is lowered while she looks: her page follows, and what she tries is refused in words
  await odile.goto(`${tonos.origin}/people`);
  await odile
    .getByRole('row', { name: /Mira Osten/ })
    .getByRole('button', { name: 'Change' })
    .click();
  await odile.getByRole('combobox', { name: 'Role' }).click();
  await odile.getByRole('option', { name: /^engineer:/ }).click();
  await odile.getByRole('button', { name: 'Save' }).click();
  await expect(mira.getByRole('link', { name: 'Mira Osten engineer' })).toBeVisible({ timeout: 5000 });
  await expect(mira.getByRole('button', { name: 'Approve no longer' })).toHaveCount(0);
  expect((await call(mira, 'DELETE', `/chains/${id}/revisions/3/approval`)).status).toBe(403);

  // the account says all of it
  await odile.goto(`${tonos.origin}/account?chainId=${id}`);
  for (const sentence of [
    'kept revision 2 of the chain “Shared”: Down a little',
    'approved revision 3 of the chain “Shared”',
  ])
    await expect(odile.getByText(sentence)).toBeVisible();
});

test.describe.configure({ mode: 'serial' });

test('who leaves is out of every page at once; who is signed out finds their work again', async ({ browser }) => {
  const odile = await fresh(browser);
  await odile.goto(tonos.origin);
  await odile.getByLabel('Name').fill('odile brandt');
  await odile.getByRole('textbox', { name: 'Password' }).fill('not this one');
  await odile.getByRole('button', { name: 'Sign in' }).click();
  await expect(odile.getByRole('alert')).toHaveText(/Name or password are wrong/);
  await odile.getByRole('textbox', { name: 'Password' }).fill('seven herons at low tide');
  await odile.getByRole('button', { name: 'Sign in' }).click();
  await odile.getByRole('link', { name: /Odile Brandt/ }).waitFor();
  const lev = await invited(browser, odile, 'Lev Ostrander', 'engineer');
  const steps = [{ id: 'a', kind: 'gain', settings: { gainDb: 0 } }];
  const { id } = (await call(lev, 'POST', '/chains', { name: 'Lev’s', steps })).body;
  await lev.goto(`${tonos.origin}/chains/${id}`);

  // his session ends while he works: the page asks for him, and goes on where he was
  await lev.getByRole('button', { name: /^Gain/ }).first().click();
  await lev.context().clearCookies();
  await lev.getByRole('textbox', { name: 'Gain', exact: true }).fill('5');
  await expect(lev.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  await expect(lev.getByText('What you were working on is still in this page.')).toBeVisible();
  await lev.getByLabel('Name').fill('Lev Ostrander');
  await lev.getByRole('textbox', { name: 'Password' }).fill('seven herons at low tide');
  await lev.getByRole('button', { name: 'Sign in' }).click();
  await lev.getByRole('button', { name: /^Gain/ }).first().click();
  await expect(lev.getByRole('textbox', { name: 'Gain', exact: true })).toHaveValue('5.0');
  await expect.poll(async () => (await call(lev, 'GET', `/chains/${id}`)).body.draft?.steps[0].settings.gainDb).toBe(5);

  // a closed title is not there for him, and leaves his page while he looks at it
  const { id: titleId } = (await call(odile, 'POST', '/titles', { name: 'Night Shift', kind: 'podcast' })).body;
  await lev.getByRole('link', { name: 'Titles' }).click();
  await expect(lev.getByRole('link', { name: 'Night Shift' })).toBeVisible();
  await call(odile, 'PATCH', `/titles/${titleId}`, { closed: true });
  await expect(lev.getByRole('link', { name: 'Night Shift' })).toHaveCount(0, { timeout: 5000 });

  await odile.getByRole('link', { name: 'People' }).click();
  await odile
    .getByRole('row', { name: /Lev Ostrander/ })
    .getByRole('button', { name: 'Leaves' })
    .click();
  await odile.getByRole('dialog').getByRole('button', { name: 'Leaves' }).click();
  await expect(lev.getByRole('heading', { name: 'Sign in' })).toBeVisible({ timeout: 10_000 });
});
