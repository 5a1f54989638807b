import { withoutId3BeforeFlac } from '../bytes/behind-id3.ts';
import { ascii, openBytes } from '../bytes/byte-reader.ts';
import { id3Notes } from './id3-notes.ts';
import { riffNotes } from './riff-notes.ts';
import type { FileNotes } from './tags.ts';
import { flacNotes, oggNotes } from './vorbis-notes.ts';

const READERS = { RIFF: riffNotes, RF64: riffNotes, BW64: riffNotes, fLaC: flacNotes, OggS: oggNotes } as const;

/** What a file says of itself. Damaged notes are no reason to refuse the sound: they are left out. */
export async function readNotes(path: string): Promise<FileNotes> {
  const bytes = await withoutId3BeforeFlac(await openBytes(path));
  try {
    const head = ascii(await bytes.read(0, 4), 0, 4);
    return await (READERS[head as keyof typeof READERS] ?? id3Notes)(bytes);
  } catch {
    return { tags: {}, marks: [] };
  } finally {
    await bytes.close();
  }
}
