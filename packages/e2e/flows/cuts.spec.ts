import { expect, type Page, test } from '@playwright/test';
import { babble, mixed, noise } from '@tonos/core/testing';
import { overhear, peakHeard } from './ear.ts';
import { expectAccessible } from './no-findings.ts';
import { Tonos } from './tonos.ts';

// the ear is no file of the server
test.use({ bypassCSP: true });

let tonos: Tonos;
test.beforeAll(async () => {
  tonos = await Tonos.start({ demo: true });
});
test.afterAll(() => tonos.remove());

interface Kept {
  id: string;
  name: string;
  status: string;
  cuts: { kind: string; startSeconds?: number; endSeconds?: number }[];
}

const get = async <T>(path: string): Promise<T> => (await (await fetch(`${tonos.origin}/api${path}`)).json()) as T;

async function recordingsOf(name: string): Promise<Kept[]> {
  const title = (await get<{ id: string; name: string }[]>('/titles')).find((one) => one.name === name)!;
  await expect
    .poll(async () => (await get<Kept[]>(`/titles/${title.id}/recordings`)).every(({ status }) => status === 'ready'), {
      timeout: 60_000,
    })
    .toBe(true);
  return get<Kept[]>(`/titles/${title.id}/recordings`);
}

const cutsOf = async (id: string) => (await get<Kept>(`/recordings/${id}`)).cuts;

async function choose(page: Page, from: string, to: string) {
  await page.keyboard.press('t');
  const chosen = page.getByRole('region', { name: 'Chosen stretch' });
  // each end changes places with the other where it is typed past it
  for (const [name, value] of [
    ['From', '0'],
    ['To', to],
    ['From', from],
  ] as const) {
    await chosen.getByRole('textbox', { name }).fill(value);
    await chosen.getByRole('textbox', { name }).press('Enter');
  }
}

test('a stretch is taken out, three coughs are covered, and all of it is heard, switched off and undone', async ({
  page,
}) => {
  const [chapter] = await recordingsOf('The Salt Road Almanac');
  await overhear(page);
  await page.goto(`${tonos.origin}/recordings/${chapter.id}`);
  await expect(page.getByRole('img', { name: 'Wave' })).toBeVisible();
  await choose(page, '4', '12');
  await page.keyboard.press('d');
  const cuts = page.getByRole('region', { name: 'Cuts' });
  await expect(cuts.getByText('0:20.3 becomes 0:12.3')).toBeVisible();
  await expect(page.getByRole('region', { name: 'Folds' }).getByText('Taken out')).toBeVisible();
  // the page shows a cut before the server has it
  await expect.poll(() => cutsOf(chapter.id)).toMatchObject([{ kind: 'take-out', startSeconds: 4, endSeconds: 12 }]);
  // what overlaps is refused with the reason, and nothing is lost
  await choose(page, '11', '13');
  await page.keyboard.press('d');
  await expect(page.getByText(/overlap/)).toBeVisible();
  expect(await cutsOf(chapter.id)).toHaveLength(1);
  // from before the cut the sound goes on behind it
  await page.keyboard.press('j');
  await expect(page.getByRole('region', { name: 'Chosen stretch' })).toBeVisible();
  await cuts.getByRole('button', { name: 'Listen' }).click();
  await expect.poll(() => peakHeard(page), { timeout: 15_000 }).toBeGreaterThan(0.001);
  await expect(page.getByText(/0:1[2-5]\.\d of|0:1[2-5]/).first()).toBeVisible({ timeout: 20_000 });
  await page.keyboard.press('Space');
  await cuts.getByRole('checkbox', { name: /Taken out at 0:04\.00 is on/ }).uncheck();
  await expect(cuts.getByText('0:20.3 becomes 0:20.3')).toBeVisible();
  await page.keyboard.press('Escape');

  for (const at of [13, 15, 17]) {
    await fetch(`${tonos.origin}/api/recordings/${chapter.id}/marks/cough-${at}`, {
      method: 'PUT',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ name: 'cough', startSeconds: at, endSeconds: at + 0.3 }),
    });
  }
  await page.getByRole('button', { name: 'Room tone over all 3' }).first().click();
  await expect(cuts.getByRole('button', { name: 'Room tone', exact: true })).toHaveCount(3);
  await expectAccessible(page);
  await page.keyboard.press('Control+z');
  await expect(cuts.getByRole('button', { name: 'Room tone', exact: true })).toHaveCount(0);
  await page.keyboard.press('Control+Shift+z');
  await expect(cuts.getByRole('button', { name: 'Room tone', exact: true })).toHaveCount(3);
  await expect
    .poll(async () => (await cutsOf(chapter.id)).map(({ kind }) => kind))
    .toEqual(['take-out', 'room-tone', 'room-tone', 'room-tone']);
});

test('a pick-up is laid over a line, and a note is made by a key', async ({ page }) => {
  const [host, , session] = await recordingsOf('The Ferry House');
  await page.goto(`${tonos.origin}/recordings/${host.id}`);
  await expect(page.getByRole('img', { name: 'Wave' })).toBeVisible();
  await choose(page, '0.8', '4.1');
  await page.keyboard.press('q');
  // the recording that is called a pick-up session comes first
  await expect(page.getByRole('combobox', { name: /^Recording of Pick-up/ })).toHaveValue(session.name);
  await page.getByRole('checkbox', { name: /^Match the room/ }).uncheck();
  await expect
    .poll(() => cutsOf(host.id))
    .toMatchObject([{ kind: 'pick-up', recordingId: session.id, matchRoom: false }]);
  await page.getByRole('heading', { level: 1 }).click();
  await page.keyboard.press('w');
  await page.getByRole('textbox', { name: /^Note at/ }).fill('A chair. Ask for another take.');
  await page.getByRole('textbox', { name: /^Note at/ }).press('Enter');
  await expect(page.getByRole('checkbox', { name: 'Done: A chair. Ask for another take.' })).toBeVisible();
  await page.getByRole('link', { name: 'The Ferry House' }).first().click();
  const notes = page.getByRole('region', { name: 'Notes' });
  await expect(notes.getByText('1 open of 1')).toBeVisible();
  await notes.getByRole('checkbox', { name: /A chair/ }).click();
  await expect(notes.getByText('0 open of 1')).toBeVisible();
  await expectAccessible(page);
});

test('two microphones of one talk are linked, cut as one, and come out as long as each other', async ({ page }) => {
  await overhear(page);
  const [host, guest] = await recordingsOf('The Ferry House');
  await page.goto(`${tonos.origin}/titles`);
  await page.getByRole('link', { name: 'The Ferry House' }).click();
  for (const { name } of [host, guest]) await page.getByRole('checkbox', { name: `Choose ${name}` }).check();
  await page.getByRole('button', { name: 'Link as one session' }).click();
  const sets = page.getByRole('region', { name: 'Linked sets' });
  await expect(sets.getByRole('textbox', { name: `Begin of ${guest.name}` })).toHaveValue('1.800', { timeout: 30_000 });
  await page.getByRole('link', { name: guest.name }).first().click();
  await expect(page.getByRole('img', { name: `Wave of ${host.name}` })).toBeVisible();
  // the other one is heard at the same moment, and all of them
  await page.getByText('All together').click();
  await page.getByRole('img', { name: 'Wave', exact: true }).click({ position: { x: 60, y: 40 } });
  await expect.poll(() => peakHeard(page)).toBeGreaterThan(0.05);
  await page.keyboard.press('Space');
  // the first one is the measure: where it is laid a millisecond later, the other lies a millisecond earlier
  const beginOf = async () => {
    const { titleId } = await get<{ titleId: string }>(`/recordings/${guest.id}`);
    const [set] = await get<{ members: { recordingId: string; offsetSeconds: number }[] }[]>(`/titles/${titleId}/sets`);
    return set.members.find(({ recordingId }) => recordingId === guest.id)!.offsetSeconds;
  };
  const before = await beginOf();
  const grip = page.getByRole('slider', { name: `Lay ${host.name} on the time of the one above` });
  await grip.press('ArrowRight');
  await expect.poll(beginOf).toBeCloseTo(before - 0.001, 6);
  await grip.press('ArrowLeft');
  await expect.poll(beginOf).toBeCloseTo(before, 6);
  await page.getByText('This one', { exact: true }).click();
  await choose(page, '9', '10');
  await page.keyboard.press('d');
  await expect.poll(() => cutsOf(guest.id)).toHaveLength(1);
  await page.getByRole('link', { name: 'The Ferry House' }).first().click();
  await page.getByRole('checkbox', { name: `Choose ${host.name}` }).check();
  await page.getByRole('button', { name: 'Run 1 chosen' }).click();
  await page.getByRole('button', { name: 'Start run' }).click();
  await expect(page).toHaveURL(/\/runs\//);
  const id = page.url().split('/').at(-1)!;
  interface Item {
    recordingId: string;
    error: { message: string } | null;
    after: { durationSeconds: number } | null;
  }
  await expect
    .poll(async () => (await get<{ status: string }>(`/runs/${id}`)).status, { timeout: 90_000 })
    .toBe('finished');
  const { items } = await get<{ items: Item[] }>(`/runs/${id}`);
  expect(items.map(({ recordingId }) => recordingId)).toEqual([host.id, guest.id]);
  expect(items.map(({ error }) => error?.message)).toEqual([undefined, undefined]);
  expect(items[0].after!.durationSeconds).toBe(items[1].after!.durationSeconds);
});

test('a chapter of an hour is tightened, with three coughs covered, and every place in it says where it went', async ({
  page,
}) => {
  // two minutes here; machines of others can be four times as slow
  test.setTimeout(900_000);
  const rate = 8000;
  const minute = mixed(babble(60, rate, 3), noise(0.0005, 60, rate)).map((x) => 0.3 * x);
  const hour = new Float32Array(3600 * rate);
  for (let i = 0; i < 60; i++) hour.set(minute, i * 60 * rate);
  const post = async <T>(path: string, data: object): Promise<T> =>
    (await page.request.post(`${tonos.origin}/api${path}`, { data })).json();
  const { id: titleId } = await post<{ id: string }>('/titles', { name: 'The Long Chapter', kind: 'audiobook' });
  await page.goto(`${tonos.origin}/titles/${titleId}`);
  await page
    .locator('input[type=file]')
    .first()
    .setInputFiles(await tonos.wav('Hour.wav', rate, hour));
  await expect
    .poll(async () => (await get<Kept[]>(`/titles/${titleId}/recordings`))[0]?.status, { timeout: 120_000 })
    .toBe('ready');
  const [chapter] = await get<Kept[]>(`/titles/${titleId}/recordings`);
  await page.goto(`${tonos.origin}/recordings/${chapter.id}`);
  await expect(page.getByRole('img', { name: 'Wave' })).toBeVisible();
  for (const at of [600, 1800, 3000]) {
    await choose(page, String(at), String(at + 0.4));
    await page.keyboard.press('v');
  }
  await expect.poll(async () => (await cutsOf(chapter.id)).map(({ kind }) => kind)).toEqual(Array(3).fill('room-tone'));
  const steps = [{ kind: 'shorten-pauses', settings: { longestSeconds: 0.5 } }];
  const { id: chainId } = await post<{ id: string }>('/chains', { name: 'Tight', steps });
  const target = (await get<{ id: string; name: string }[]>('/targets')).find(({ name }) => name === 'Podcast, mono')!;
  const started = await post<{ id: string; items: { id: string }[] }>('/runs', {
    ...{ titleId, chainId, targetId: target.id },
    recordingIds: [chapter.id],
  });
  interface Done {
    status: string;
    items: { after: { durationSeconds: number; longestPauseSeconds: number } }[];
  }
  await expect.poll(async () => (await get<Done>(`/runs/${started.id}`)).status, { timeout: 600_000 }).toBe('finished');
  const [{ after }] = (await get<Done>(`/runs/${started.id}`)).items;
  // a second and more of every fourth is a pause, of which half a second stays
  expect(after.durationSeconds).toBeLessThan(3600 - 15 * 60 * 0.4);
  expect(after.longestPauseSeconds).toBeLessThan(0.6);
  const { timeMap } = await get<{ timeMap: [number, number][] }>(
    `/runs/${started.id}/items/${started.items[0].id}/recipe`,
  );
  expect(timeMap.at(-1)![0]).toBeCloseTo(3600, 1);
  expect(timeMap.at(-1)![1]).toBeCloseTo(after.durationSeconds, 1);
});
