import { ascii, type ByteReader, viewOf } from '../bytes/byte-reader.ts';
import { readPage } from '../ogg/ogg-pages.ts';
import { cleanText, type FileNotes, trackNumber, withoutGaps } from './tags.ts';

/** Vorbis comments (Vorbis I, 5), as FLAC and Ogg files carry them. */

const MOST_COMMENTS = 1000;
const MOST_BYTES = 1 << 20;
const COMMENT_BLOCK = 4;

function commentNotes(bytes: Uint8Array): FileNotes {
  const view = viewOf(bytes);
  const found = new Map<string, string>();
  let at = 4 + (bytes.length >= 4 ? view.getUint32(0, true) : 0);
  const count = at + 4 <= bytes.length ? view.getUint32(at, true) : 0;
  at += 4;
  for (let i = 0; i < Math.min(count, MOST_COMMENTS) && at + 4 <= bytes.length; i++) {
    const length = view.getUint32(at, true);
    const [name, ...value] = new TextDecoder().decode(bytes.subarray(at + 4, at + 4 + length)).split('=');
    found.set(name.toUpperCase(), value.join('='));
    at += 4 + length;
  }
  const tags = withoutGaps({
    title: cleanText(found.get('TITLE')),
    artist: cleanText(found.get('ARTIST')),
    track: trackNumber(found.get('TRACKNUMBER')),
    description: cleanText(found.get('DESCRIPTION') ?? found.get('COMMENT')),
  });
  return { tags, marks: [] };
}

/** RFC 9639, 8.1: metadata blocks follow the marker. */
export async function flacNotes(bytes: ByteReader): Promise<FileNotes> {
  for (let at = 4; at + 4 <= bytes.size; ) {
    const head = await bytes.read(at, 4);
    const size = (head[1] << 16) | (head[2] << 8) | head[3];
    if ((head[0] & 0x7f) === COMMENT_BLOCK) return commentNotes(await bytes.read(at + 4, Math.min(size, MOST_BYTES)));
    if (head[0] & 0x80) break;
    at += 4 + size;
  }
  return { tags: {}, marks: [] };
}

/** The comments are the second packet: what fits on its first page is read. */
export async function oggNotes(bytes: ByteReader): Promise<FileNotes> {
  const head = await bytes.read(0, 1 << 17);
  const first = readPage(head, 0);
  const second = first && readPage(head, first.bytes);
  if (!second) return { tags: {}, marks: [] };
  const opus = ascii(head, second.payload, 8) === 'OpusTags';
  return commentNotes(head.subarray(second.payload + (opus ? 8 : 7), first.bytes + second.bytes));
}
