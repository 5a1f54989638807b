import { expect, type Page, test } from '@playwright/test';
import { overhear } from './ear.ts';
import { Tonos } from './tonos.ts';

// the ear is no file of the server
test.use({ bypassCSP: true });

let tonos: Tonos;
test.beforeEach(async () => {
  tonos = await Tonos.start({ demo: false });
});
test.afterEach(() => tonos.remove());

const PERIOD = 65536;

/** Frame numbers, modulo the period, of what was heard last, without silence. */
const heardFrames = (page: Page, last: number): Promise<number[]> =>
  page.evaluate(
    ({ last, period }) =>
      (window as unknown as { heard: number[] }).heard
        .slice(-last)
        .filter((x) => x !== 0)
        .map((x) => Math.round(x * 2 * period) - 1),
    { last, period: PERIOD },
  );

test('what reaches the sound device is the recording, to the sample: from any place, repeated, over page changes', async ({
  page,
}) => {
  await overhear(page);
  await page.goto(`${tonos.origin}/titles`);
  const rate = await page.evaluate(() => new AudioContext().sampleRate);
  const seconds = 40;
  // a saw: every sample says where it stands
  const saw = Float32Array.from({ length: seconds * rate }, (_, n) => ((n % PERIOD) + 1) / (2 * PERIOD));
  const file = await tonos.wav('saw.wav', rate, saw);
  await page.getByRole('button', { name: 'New title' }).click();
  await page.getByLabel('Name').fill('Saws');
  await page.getByRole('button', { name: 'Make title' }).click();
  await page.locator('input[type=file]').first().setInputFiles(file);
  await page.getByRole('link', { name: 'saw.wav' }).click();
  await expect(page.getByRole('img', { name: 'Wave' })).toBeVisible();

  const box = (await page.getByRole('img', { name: 'Wave' }).boundingBox())!;
  await page.mouse.click(box.x + box.width / 2, box.y + box.height / 2);
  await expect.poll(async () => (await heardFrames(page, 1e9)).length).toBeGreaterThan(200);
  const start = (await heardFrames(page, 1e9))[150]; // the first quantum fades in
  const middle = (seconds / 2) * rate;
  const off = ((start - 150 - middle + PERIOD / 2 + PERIOD * 1000) % PERIOD) - PERIOD / 2;
  expect(Math.abs(off)).toBeLessThan(0.1 * rate); // the middle of the picture, to a pixel or two
  /** How many of the last frames do not follow on the one before. */
  const gaps = async (last: number) => {
    const now = await heardFrames(page, last);
    return now.length < last ? last : now.filter((frame, i) => i > 0 && frame !== (now[i - 1] + 1) % PERIOD).length;
  };
  await expect.poll(() => gaps(15_000)).toBe(0);

  // a stretch is chosen by dragging, and repeated to the sample
  await page.mouse.move(box.x + box.width / 4, box.y + 20);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 4 + 12, box.y + 20, { steps: 4 });
  await page.mouse.up();
  await page.keyboard.press('l');
  await expect(page.getByRole('button', { name: 'Stop repeating' })).toBeVisible();
  /** How many frames lie between two turns; the seam of the jump is faded and counts as no turn. */
  const turns = async () => {
    const now = await heardFrames(page, 150_000);
    const seams = now.flatMap((frame, i) => (i && frame !== (now[i - 1] + 1) % PERIOD ? [i] : []));
    return seams.map((at, i) => at - (seams[i - 1] ?? 0)).filter((frames, i) => i > 0 && frames > 1000);
  };
  await expect.poll(async () => (await turns()).length).toBeGreaterThan(3);
  // a busy machine may leave the sound device without samples once, which looks like one more turn
  let lengths: number[] = [];
  await expect
    .poll(async () => {
      lengths = (await turns()).slice(-3);
      return new Set(lengths).size;
    })
    .toBe(1);
  expect(Math.abs(lengths[0] - (12 / box.width) * seconds * rate)).toBeLessThan(0.1 * rate);
  await page.getByRole('button', { name: 'Stop repeating' }).click();

  // it goes on while pages change
  await page.keyboard.press('g');
  await page.keyboard.press('c');
  await expect(page.getByRole('heading', { name: 'Chains' })).toBeVisible();
  await expect.poll(() => gaps(8000)).toBe(0);
  await page.keyboard.press('Space');
  await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeVisible();
});
