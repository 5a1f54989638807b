import { createHash } from 'node:crypto';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ReportFile, Run } from '@tonos/contract';
import { deliveryPackage } from './delivery-package.ts';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'tonos-bag-'));
});
afterAll(() => rm(folder, { recursive: true }));

/** The stored entries of a ZIP by its central directory (APPNOTE 4.3.12). */
function entriesOf(zip: Buffer): Map<string, Buffer> {
  const end = zip.lastIndexOf(Buffer.from('PK\u0005\u0006'));
  const entries = new Map<string, Buffer>();
  let at = zip.readUInt32LE(end + 16);
  for (let i = 0; i < zip.readUInt16LE(end + 10); i++) {
    const [size, nameLength, extra, comment, local] = [
      zip.readUInt32LE(at + 20),
      zip.readUInt16LE(at + 28),
      zip.readUInt16LE(at + 30),
      zip.readUInt16LE(at + 32),
      zip.readUInt32LE(at + 42),
    ];
    expect(zip.readUInt16LE(at + 10)).toBe(0); // stored
    const name = zip.toString('utf8', at + 46, at + 46 + nameLength);
    const start = local + 30 + zip.readUInt16LE(local + 26) + zip.readUInt16LE(local + 28);
    entries.set(name, zip.subarray(start, start + size));
    at += 46 + nameLength + extra + comment;
  }
  return entries;
}

const sha256 = (bytes: Buffer | string) => createHash('sha256').update(bytes).digest('hex');

async function pack(names: string[], statuses: string[]): Promise<Map<string, Buffer>> {
  const items = await Promise.all(
    names.map(async (name, i) => {
      const hash = sha256(name);
      await writeFile(join(folder, hash), `sound of ${name}`);
      return {
        name,
        status: statuses[i],
        accepted: null,
        limits: [],
        output: { name, sha256: sha256(`sound of ${name}`), sizeBytes: 9 + name.length, hash },
      };
    }),
  );
  const paths = new Map(items.map(({ output }) => [output.sha256, join(folder, output.hash)]));
  const report = {
    format: 'tonos.report/1',
    version: '0',
    title: 'The Ferry',
    target: 'Plain',
    chain: { name: 'C', revision: 1 },
    createdAt: '2026-01-02T03:04:05Z',
    items: [],
  } as unknown as ReportFile;
  const chunks: Buffer[] = [];
  for await (const chunk of await deliveryPackage(
    'The Ferry',
    { items } as unknown as Run,
    report,
    (hash) => paths.get(hash)!,
  ))
    chunks.push(chunk as Buffer);
  return entriesOf(Buffer.concat(chunks));
}

it('is one bag: every payload file stands in the manifest with its digest, every tag file in the tag manifest', async () => {
  const entries = await pack(['one.mp3', 'two 100%.mp3'], ['within', 'within']);
  expect([...entries.keys()].every((name) => name.startsWith('The Ferry/'))).toBe(true);
  const text = (name: string) => entries.get(`The Ferry/${name}`)!.toString();
  const manifest = new Map(
    text('manifest-sha256.txt')
      .trim()
      .split('\n')
      .map((line) => line.split('  ') as [string, string])
      .map(([digest, path]) => [decodeURIComponent(path.replace(/%(?!25|0A|0D)/g, '%25')), digest]),
  );
  expect([...manifest.keys()].sort()).toEqual([
    'data/one.mp3',
    'data/report.csv',
    'data/report.json',
    'data/report.pdf',
    'data/two 100%.mp3',
  ]);
  for (const [path, digest] of manifest) expect(sha256(entries.get(`The Ferry/${path}`)!)).toBe(digest);
  for (const line of text('tagmanifest-sha256.txt').trim().split('\n')) {
    const [digest, path] = line.split('  ');
    expect(sha256(entries.get(`The Ferry/${path}`)!)).toBe(digest);
  }
  expect(text('bagit.txt')).toBe('BagIt-Version: 1.0\nTag-File-Character-Encoding: UTF-8\n');
  const payload = [...entries].filter(([name]) => name.includes('/data/'));
  const octets = payload.reduce((sum, [, bytes]) => sum + bytes.length, 0);
  expect(text('bag-info.txt')).toContain(`Payload-Oxum: ${octets}.${payload.length}\n`);
});

it('leaves out what is not within', async () => {
  const entries = await pack(['good.mp3', 'loud.mp3'], ['within', 'off-target']);
  expect([...entries.keys()].filter((name) => name.endsWith('.mp3'))).toEqual(['The Ferry/data/good.mp3']);
});

it('puts its report beside a delivered file of the same name', async () => {
  const entries = await pack(['report.json'], ['within']);
  expect([...entries.keys()]).toEqual(
    expect.arrayContaining(['The Ferry/data/report.json', 'The Ferry/data/report (2).json']),
  );
});
