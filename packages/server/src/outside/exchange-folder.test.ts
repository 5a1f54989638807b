import { appendFile, mkdir, mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ExchangeFolder } from './exchange-folder.ts';
import { isWholeWav } from './whole-file.ts';

let folder: string;
let exchange: ExchangeFolder;
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'tonos-exchange-'));
  exchange = new ExchangeFolder(join(folder, 'exchange'));
  await exchange.isThere();
});
afterEach(() => rm(folder, { recursive: true }));

/** A head that states so many bytes after its eighth, and so many in all. */
function wav(declared: number, bytes: number, form = 'RIFF'): Buffer {
  const file = Buffer.alloc(bytes);
  file.write(form, 0, 'latin1');
  file.writeUInt32LE(form === 'RIFF' ? declared : 0xffffffff, 4);
  file.write('WAVE', 8, 'latin1');
  if (form !== 'RIFF') {
    file.write('ds64', 12, 'latin1');
    file.writeBigUInt64LE(BigInt(declared), 20);
  }
  return file;
}

describe('whether a file has all that its head says', () => {
  it.each<[string, Buffer, boolean | undefined]>([
    ['RIFF, whole', wav(92, 100), true],
    ['RIFF, not yet', wav(93, 100), false],
    ['RIFF that was streamed', wav(0, 100), undefined],
    ['RIFF of unknown size', wav(0xffffffff, 100), undefined],
    ['RF64, whole', wav(92, 100, 'RF64'), true],
    ['RF64, not yet', wav(5e9, 100, 'RF64'), false],
    ['BW64, whole', wav(92, 100, 'BW64'), true],
    ['text', Buffer.from('these are notes, and quite long ones'), undefined],
    ['a few bytes', Buffer.from('RIFF'), undefined],
  ])('%s', async (_, bytes, wanted) => {
    const path = join(folder, 'file.wav');
    await writeFile(path, bytes);
    expect(await isWholeWav(path, bytes.length)).toBe(wanted);
  });
});

describe('what came back', () => {
  const known = (name: string) => (name.startsWith('known') ? '' : undefined);
  const look = () => exchange.look(known);
  const names = (found: Awaited<ReturnType<typeof look>>) => ({
    ...found,
    arrived: found.arrived.map(({ name }) => name),
  });

  it('is complete once it rests and is whole, is coming until then, and is strange under another name', async () => {
    await writeFile(join(exchange.back, 'known.wav'), wav(92, 60));
    await writeFile(join(exchange.back, 'other.wav'), 'x');
    await writeFile(join(exchange.back, '.known.wav.part'), 'x');
    await mkdir(join(exchange.back, 'known folder'));
    for (let i = 0; i < 5; i++)
      expect(names(await look())).toEqual({ arrived: [], coming: ['known.wav'], strangers: ['other.wav'] });
    await appendFile(join(exchange.back, 'known.wav'), Buffer.alloc(40));
    expect(names(await look())).toMatchObject({ arrived: [], coming: ['known.wav'] });
    expect(names(await look())).toMatchObject({ arrived: ['known.wav'], coming: [] });
  });

  it('rests longer where its head says nothing', async () => {
    await writeFile(join(exchange.back, 'known.wav'), wav(0, 100));
    for (let i = 0; i < 10; i++) expect(names(await look()).arrived).toEqual([]);
    expect(names(await look()).arrived).toEqual(['known.wav']);
  });

  it('is not looked at again once it was dealt with, until it is another', async () => {
    const path = join(exchange.back, 'known.wav');
    await writeFile(path, wav(92, 100));
    await look();
    const [{ stamp }] = (await look()).arrived;
    expect((await exchange.look(() => stamp)).arrived).toEqual([]);
    await appendFile(path, 'more');
    await exchange.look(() => stamp);
    expect((await exchange.look(() => stamp)).arrived).toHaveLength(1);
  });
});

it('lays out what is said of a sound before the sound, hands in under a hidden name first, and clears all of one', async () => {
  await writeFile(exchange.partOf('a.wav'), 'sound');
  await exchange.layOut('a.wav', { file: 'a.wav' });
  expect((await readdir(exchange.out)).sort()).toEqual(['a.json', 'a.wav']);
  expect(JSON.parse(await readFile(join(exchange.out, 'a.json'), 'utf8'))).toEqual({ file: 'a.wav' });
  await exchange.handIn('a.wav', (path) => writeFile(path, 'treated'));
  expect(await readdir(exchange.back)).toEqual(['a.wav']);
  const broken = exchange.handIn('b.wav', async (path) => {
    await writeFile(path, 'half');
    throw new Error('cut off');
  });
  await expect(broken).rejects.toThrow('cut off');
  expect(await readdir(exchange.back)).toEqual(['a.wav']);
  await exchange.clear('a.wav');
  expect(await readdir(exchange.out)).toEqual([]);
});

it('says why it can\u2019t be used, and that it can be again', async () => {
  await writeFile(join(folder, 'taken'), 'a file stands in its place');
  const blocked = new ExchangeFolder(join(folder, 'taken'));
  expect(await blocked.isThere()).toBe(false);
  expect(blocked.trouble).toMatch(/^The exchange folder can\u2019t be used: /);
  await rm(join(folder, 'taken'));
  expect([await blocked.isThere(), blocked.trouble]).toEqual([true, null]);
  // without a choice the way to the data folder is nobody's to know
  expect(new ExchangeFolder('/somewhere/exchange', true).told.out).toBe('exchange/out, in the data folder');
});
