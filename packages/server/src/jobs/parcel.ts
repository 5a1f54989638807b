import { TonosError } from '@tonos/core';

/** The media type of a parcel. */
export const PARCEL = 'application/x-tonos-parcel';
/** So much travels along with a call; larger files have calls of their own, which can go on where they broke off. */
export const PARCEL_BYTES = 2 * 1024 * 1024;

export const NO_FILES: Parcel<unknown>['files'] = new Map();

const LENGTH_BYTES = 4;

/** A call or an answer with files that it is about: for small ones, calls of their own cost more than what they carry. */
export interface Parcel<Head> {
  head: Head;
  /** By their hashes, which say what has to be in them. */
  files: ReadonlyMap<string, Uint8Array>;
}

/** One after the other: how long the JSON is, in four bytes, the lowest first; the JSON, which says what follows; the files. */
export function packParcel({ head, files }: Parcel<unknown>): Buffer {
  const text = Buffer.from(JSON.stringify({ head, files: [...files].map(([sha256, { length }]) => [sha256, length]) }));
  const length = Buffer.alloc(LENGTH_BYTES);
  length.writeUInt32LE(text.length);
  return Buffer.concat([length, text, ...files.values()]);
}

/** @throws TonosError `broken-parcel` where its parts don't add up to what came */
export function unpackParcel<Head>(bytes: Buffer): Parcel<Head> {
  try {
    let at = LENGTH_BYTES + bytes.readUInt32LE(0);
    const said = JSON.parse(bytes.toString('utf8', LENGTH_BYTES, at)) as { head: Head; files: [string, number][] };
    const files = new Map<string, Uint8Array>();
    for (const [sha256, length] of said.files) {
      if (!(length >= 0)) throw new RangeError('no length');
      files.set(sha256, bytes.subarray(at, at + length));
      at += length;
    }
    if (at === bytes.length) return { head: said.head, files };
  } catch {
    // told below: whoever sent it knows best what it should have been
  }
  throw new TonosError('broken-parcel', 'What came is not whole. Send it again.');
}
