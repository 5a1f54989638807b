import { ascii, type ByteReader } from './byte-reader.ts';

const HEADER_BYTES = 10;
const HAS_FOOTER = 0x10;

/** A number of four times seven bits: ID3v2.4, 6.2. */
export const synchsafe = (bytes: Uint8Array, at: number): number =>
  ((bytes[at] & 127) << 21) | ((bytes[at + 1] & 127) << 14) | ((bytes[at + 2] & 127) << 7) | (bytes[at + 3] & 127);

/** How long the ID3v2 tag is that bytes begin with: 0 where they don't. */
export const id3Length = (head: Uint8Array): number =>
  head.length >= HEADER_BYTES && ascii(head, 0, 3) === 'ID3'
    ? HEADER_BYTES + synchsafe(head, 6) + (head[5] & HAS_FOOTER ? HEADER_BYTES : 0)
    : 0;

/** The same bytes without the first ones. */
const bytesFrom = (bytes: ByteReader, start: number): ByteReader => ({
  size: Math.max(0, bytes.size - start),
  read: (offset, length, into) => bytes.read(start + offset, length, into),
  close: () => bytes.close(),
});

/** A FLAC stream behind an ID3v2 tag, which some taggers write though the format has tags of its own; anything else as it is. */
export async function withoutId3BeforeFlac(bytes: ByteReader): Promise<ByteReader> {
  const length = id3Length(await bytes.read(0, HEADER_BYTES));
  return length && ascii(await bytes.read(length, 4), 0, 4) === 'fLaC' ? bytesFrom(bytes, length) : bytes;
}
