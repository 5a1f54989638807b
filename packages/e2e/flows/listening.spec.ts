import { expect, type Page, test } from '@playwright/test';
import { Tonos } from './tonos.ts';

// the ear is no file of the server
test.use({ bypassCSP: true });

let tonos: Tonos;
test.beforeEach(async () => {
  tonos = await Tonos.start({ demo: false });
});
test.afterEach(() => tonos.remove());

const EAR = `registerProcessor('ear', class extends AudioWorkletProcessor {
  process([[left]]) {
    if (left) this.port.postMessage(left.slice());
    return true;
  }
});`;

/** Keeps what reaches the sound device, as `heard` in the page: a second worklet listens beside the device. */
async function overhear(page: Page): Promise<void> {
  await page.addInitScript((program) => {
    const heard: number[] = [];
    Object.assign(window, { heard });
    const addModule = AudioWorklet.prototype.addModule;
    AudioWorklet.prototype.addModule = async function (url) {
      await addModule.call(this, URL.createObjectURL(new Blob([program], { type: 'text/javascript' })));
      await addModule.call(this, url);
    };
    const connect = AudioNode.prototype.connect as (to: AudioNode) => AudioNode;
    AudioNode.prototype.connect = function (this: AudioNode, to: AudioNode) {
      if (to instanceof AudioDestinationNode) {
        const ear = new AudioWorkletNode(this.context, 'ear');
        ear.port.onmessage = ({ data }: MessageEvent<Float32Array>) => heard.push(...data);
        connect.call(this, ear);
        connect.call(ear, to); // silent; what leads nowhere is not run
      }
      return connect.call(this, to);
    } as typeof AudioNode.prototype.connect;
  }, EAR);
}

const PERIOD = 65536;

/** Frame numbers, modulo the period, of what was heard last, without silence. */
const heardFrames = async (page: Page, last: number): Promise<number[]> => {
  const samples = await page.evaluate(() => (window as unknown as { heard: number[] }).heard);
  return samples
    .filter((x) => x !== 0)
    .slice(-last)
    .map((x) => Math.round(x * 2 * PERIOD) - 1);
};

test('what reaches the sound device is the recording, to the sample: from any place, repeated, over page changes', async ({
  page,
}) => {
  await overhear(page);
  await page.goto(tonos.origin);
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
  await expect.poll(async () => (await heardFrames(page, 1e9)).length).toBeGreaterThan(20_000);
  const frames = await heardFrames(page, 1e9);
  const start = frames[400]; // the first quantum fades in
  const middle = (seconds / 2) * rate;
  const off = ((start - 400 - middle + PERIOD / 2 + PERIOD * 1000) % PERIOD) - PERIOD / 2;
  expect(Math.abs(off)).toBeLessThan(0.1 * rate); // the middle of the picture, to a pixel or two
  expect(frames.slice(400, 15_000)).toEqual(Array.from({ length: 14_600 }, (_, i) => (start + i) % PERIOD));

  // it goes on while pages change
  await page.keyboard.press('g');
  await page.keyboard.press('c');
  await expect(page.getByRole('heading', { name: 'Chains' })).toBeVisible();
  const later = await heardFrames(page, 8000);
  expect(later).toEqual(Array.from({ length: 8000 }, (_, i) => (later[0] + i) % PERIOD));
  await page.keyboard.press('Space');
  await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeVisible();
});
