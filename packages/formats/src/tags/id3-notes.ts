import { synchsafe } from '../bytes/behind-id3.ts';
import { ascii, type ByteReader } from '../bytes/byte-reader.ts';
import { cleanText, type FileNotes, trackNumber, withoutGaps } from './tags.ts';

/** ID3v2.3 and 2.4 text frames (id3.org). */

const MOST_BYTES = 1 << 20;

const plain = (bytes: Uint8Array, at: number) =>
  ((bytes[at] << 24) | (bytes[at + 1] << 16) | (bytes[at + 2] << 8) | bytes[at + 3]) >>> 0;

/** Encodings of text frames, by their first byte. */
const ENCODINGS = ['latin1', 'utf-16', 'utf-16be', 'utf-8'];

function textOf(frame: Uint8Array): string | undefined {
  const encoding = ENCODINGS[frame[0]];
  return encoding && cleanText(new TextDecoder(encoding).decode(frame.subarray(1)).split('\0')[0]);
}

export async function id3Notes(bytes: ByteReader): Promise<FileNotes> {
  const head = await bytes.read(0, 10);
  if (ascii(head, 0, 3) !== 'ID3' || head.length < 10) return { tags: {}, marks: [] };
  const frames = await bytes.read(10, Math.min(synchsafe(head, 6), MOST_BYTES));
  const sizeAt = head[3] >= 4 ? synchsafe : plain;
  const found = new Map<string, string | undefined>();
  for (let at = 0; at + 10 < frames.length && frames[at] !== 0; ) {
    const size = sizeAt(frames, at + 4);
    const id = ascii(frames, at, 4);
    if (id.startsWith('T')) found.set(id, textOf(frames.subarray(at + 10, at + 10 + size)));
    at += 10 + size;
  }
  return {
    tags: withoutGaps({ title: found.get('TIT2'), artist: found.get('TPE1'), track: trackNumber(found.get('TRCK')) }),
    marks: [],
  };
}
