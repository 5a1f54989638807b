import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { crc32, deflateSync } from 'node:zlib';
import { expect, test } from '@playwright/test';
import { api, type Named } from './api.ts';
import { expectAccessible } from './no-findings.ts';
import { Tonos } from './tonos.ts';

let tonos: Tonos;
test.beforeAll(async () => {
  tonos = await Tonos.start({ demo: false });
});
test.afterAll(() => tonos.remove());

/** A square of one colour as a PNG. */
function square(size: number): Buffer {
  const chunk = (type: string, content: Buffer) => {
    const named = Buffer.concat([Buffer.from(type), content]);
    const [length, check] = [Buffer.alloc(4), Buffer.alloc(4)];
    length.writeUInt32BE(content.length);
    check.writeUInt32BE(crc32(named));
    return Buffer.concat([length, named, check]);
  };
  const head = Buffer.alloc(13);
  head.writeUInt32BE(size, 0);
  head.writeUInt32BE(size, 4);
  head.set([8, 2], 8);
  const row = Buffer.concat([Buffer.from([0]), Buffer.alloc(3 * size, Buffer.from([0x1f, 0x4a, 0x76]))]);
  const rows = Buffer.concat(Array.from({ length: size }, () => row));
  const signature = Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);
  return Buffer.concat([
    signature,
    chunk('IHDR', head),
    chunk('IDAT', deflateSync(rows)),
    chunk('IEND', Buffer.alloc(0)),
  ]);
}

test('a title gets a cover from a file, shows it, refuses what is none, and gives it up', async ({ page }) => {
  const call = api(tonos);
  const { id } = await call<Named>('POST', '/titles', { name: 'Harbour', kind: 'audiobook' });
  const picture = join(tonos.folder, 'cover.png');
  await writeFile(picture, square(48));
  const text = join(tonos.folder, 'cover.jpg');
  await writeFile(text, 'no picture at all');
  const choose = async (open: () => Promise<void>, path: string) => {
    const [chooser] = await Promise.all([page.waitForEvent('filechooser'), open()]);
    await chooser.setFiles(path);
  };

  await page.goto(`${tonos.origin}/titles/${id}`);
  await choose(() => page.getByRole('button', { name: 'Add cover' }).click(), text);
  await expect(page.getByText('must be a JPEG or a PNG')).toBeVisible();
  await choose(() => page.getByRole('button', { name: 'Add cover' }).click(), picture);
  const cover = page.getByRole('button', { name: 'Cover of Harbour' });
  await expect(cover).toBeVisible();
  expect(
    await cover.locator('img').evaluate((img: HTMLImageElement) => img.decode().then(() => img.naturalWidth)),
  ).toBe(48);
  await expectAccessible(page);

  await cover.click();
  await expect(page.getByText('48 \u00d7 48, in every delivery but WAV')).toBeVisible();
  await page.getByRole('menuitem', { name: 'Take it away' }).click();
  await expect(page.getByRole('button', { name: 'Add cover' })).toBeVisible();
});
