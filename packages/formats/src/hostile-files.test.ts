import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { UnreadableFileError } from './format.ts';
import { openAudio } from './open-audio.ts';
import { readNotes } from './tags/read-notes.ts';

/** Damaged in any way, a file is read as far as it goes or refused in one line; it never crashes, hangs or fills the memory. */

const FIXTURES = join(import.meta.dirname, '../fixtures');
const RUNS = 60;
/** No file here holds more than a few seconds; a damaged one must not grow to more than its bytes can hold. */
const MOST_FRAMES = 50_000_000;

let folder: string;
/** Decoders complain to the console of what they are given here. */
const { error, warn } = console;
beforeAll(async () => {
  Object.assign(console, { error: () => {}, warn: () => {} });
  folder = await mkdtemp(join(tmpdir(), 'tonos-hostile-'));
});
afterAll(async () => {
  Object.assign(console, { error, warn });
  await rm(folder, { recursive: true });
});

/** A small WAV with a bext, a cue list and data of 8 bits. */
function wavBytes(): Uint8Array {
  const chunk = (id: string, body: Uint8Array) => {
    const head = Buffer.alloc(8);
    head.write(id, 'latin1');
    head.writeUInt32LE(body.length, 4);
    return Buffer.concat([head, body, Buffer.alloc(body.length % 2)]);
  };
  const format = Buffer.from([1, 0, 1, 0, 0x40, 0x1f, 0, 0, 0x40, 0x1f, 0, 0, 1, 0, 8, 0]);
  const cue = Buffer.alloc(4 + 24);
  cue.writeUInt32LE(1, 0);
  const body = Buffer.concat([
    Buffer.from('WAVE', 'latin1'),
    chunk('fmt ', format),
    chunk('bext', Buffer.alloc(602)),
    chunk('cue ', cue),
    chunk('data', Buffer.alloc(2000, 128)),
  ]);
  return chunk('RIFF', body);
}

async function readToTheEnd(bytes: Uint8Array, name: string): Promise<void> {
  const path = join(folder, name);
  await writeFile(path, bytes);
  try {
    const file = await openAudio(path);
    try {
      let frames = 0;
      for await (const block of file.blocks()) {
        frames += block[0].length;
        if (frames > MOST_FRAMES) throw new Error(`${name} expands without end`);
        for (const channel of block) if (channel.length !== block[0].length) throw new Error('uneven channels');
      }
      await readNotes(path);
    } finally {
      await file.close();
    }
  } catch (error) {
    if (!(error instanceof UnreadableFileError)) throw error;
    expect(error.message).toContain(name);
    expect(error.message).not.toContain('\n');
  }
}

const SEEDS: Readonly<Record<string, () => Promise<Uint8Array>>> = {
  'take.wav': async () => wavBytes(),
  ...Object.fromEntries(
    ['six.flac', 'sowt.aif', 'tone.mp3', 'tone.ogg', 'tone.opus', 'tone24.aiff'].map((name) => [
      name,
      () => readFile(join(FIXTURES, name)),
    ]),
  ),
};

describe.each(Object.keys(SEEDS))('%s', (name) => {
  it('with bytes of its header changed', async () => {
    const whole = await SEEDS[name]();
    const change = fc.array(fc.tuple(fc.nat(Math.min(whole.length, 800) - 1), fc.nat(255)), {
      minLength: 1,
      maxLength: 6,
    });
    await fc.assert(
      fc.asyncProperty(change, async (changes) => {
        const bytes = Uint8Array.from(whole);
        for (const [at, value] of changes) bytes[at] = value;
        await readToTheEnd(bytes, name);
      }),
      { numRuns: RUNS },
    );
  }, 60_000);

  it('cut off anywhere, or with a hole', async () => {
    const whole = await SEEDS[name]();
    await fc.assert(
      fc.asyncProperty(fc.nat(whole.length), fc.nat(whole.length), async (a, b) => {
        const [from, to] = [Math.min(a, b), Math.max(a, b)];
        await readToTheEnd(whole.subarray(0, to), name);
        await readToTheEnd(Buffer.concat([whole.subarray(0, from), whole.subarray(to)]), name);
      }),
      { numRuns: RUNS / 3 },
    );
  }, 60_000);
});

it('random bytes under every ending', async () => {
  const endings = fc.constantFrom('wav', 'aiff', 'flac', 'mp3', 'ogg', 'opus', 'txt');
  const magic = fc.constantFrom('', 'RIFF\0\0\0\0WAVE', 'fLaC', 'OggS', 'ID3', 'FORM\0\0\0\0AIFF');
  await fc.assert(
    fc.asyncProperty(magic, fc.uint8Array({ maxLength: 3000 }), endings, (head, rest, ending) =>
      readToTheEnd(Buffer.concat([Buffer.from(head, 'latin1'), rest]), `random.${ending}`),
    ),
    { numRuns: 2 * RUNS },
  );
}, 60_000);

it('a folder, a dead link, nothing at all', async () => {
  await expect(openAudio(folder, 'folder')).rejects.toThrow(UnreadableFileError);
  await expect(openAudio(join(folder, 'gone.wav'))).rejects.toThrow(/gone\.wav could not be opened/);
  await expect(readToTheEnd(new Uint8Array(), 'empty.wav')).resolves.toBeUndefined();
});
