import { ascii, type ByteReader, viewOf } from '../bytes/byte-reader.ts';

/** Ogg pages, RFC 3533. */

const HEADER_BYTES = 27;
/** No page is larger: 255 segments of 255 bytes and their header. */
export const LARGEST_PAGE = HEADER_BYTES + 255 + 255 * 255;

export interface OggPage {
  /** Position in the codec's own clock at the end of the page; -1n where no packet ends on it. */
  granule: bigint;
  serial: number;
  /** Whether the stream ends with this page. */
  last: boolean;
  /** Offset of the payload in the bytes. */
  payload: number;
  bytes: number;
}

export function readPage(bytes: Uint8Array, at: number): OggPage | undefined {
  if (at + HEADER_BYTES > bytes.length || ascii(bytes, at, 4) !== 'OggS') return undefined;
  const view = viewOf(bytes);
  const segments = bytes[at + 26];
  let size = 0;
  for (let i = 0; i < segments; i++) size += bytes[at + HEADER_BYTES + i] ?? 0;
  const payload = at + HEADER_BYTES + segments;
  return {
    granule: view.getBigInt64(at + 6, true),
    last: (bytes[at + 5] & 4) !== 0,
    serial: view.getUint32(at + 14, true),
    payload,
    bytes: payload + size - at,
  };
}

/** The last page of a stream that tells a position: its length in the codec's clock. */
export async function lastPage(bytes: ByteReader, serial: number): Promise<OggPage | undefined> {
  const start = Math.max(0, bytes.size - 2 * LARGEST_PAGE);
  const tail = await bytes.read(start, bytes.size - start);
  for (let at = tail.length - HEADER_BYTES; at >= 0; at--) {
    const page = readPage(tail, at);
    if (page && page.serial === serial && page.granule >= 0n) return page;
  }
  return undefined;
}
