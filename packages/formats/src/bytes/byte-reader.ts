import { type FileHandle, open } from 'node:fs/promises';

/** Bytes that can be read at any place. */
export interface ByteReader {
  readonly size: number;
  /** Up to `length` bytes from `offset`; fewer only at the end. @param into room that may be used for them */
  read(offset: number, length: number, into?: Uint8Array): Promise<Uint8Array>;
  close(): Promise<void>;
}

export async function openBytes(path: string): Promise<ByteReader> {
  const handle = await open(path, 'r');
  const { size } = await handle.stat();
  return { size, read: (offset, length, into) => readFully(handle, offset, length, into), close: () => handle.close() };
}

async function readFully(handle: FileHandle, offset: number, length: number, into?: Uint8Array): Promise<Uint8Array> {
  const bytes = into && into.length >= length ? into.subarray(0, length) : new Uint8Array(length);
  let filled = 0;
  while (filled < length) {
    const { bytesRead } = await handle.read(bytes, filled, length - filled, offset + filled);
    if (!bytesRead) break;
    filled += bytesRead;
  }
  return bytes.subarray(0, filled);
}

export const memoryBytes = (bytes: Uint8Array): ByteReader => ({
  size: bytes.length,
  read: async (offset, length) => bytes.slice(offset, offset + length),
  close: async () => {},
});

export const ascii = (bytes: Uint8Array, start: number, length: number): string =>
  String.fromCharCode(...bytes.subarray(start, start + length));

export const viewOf = (bytes: Uint8Array): DataView => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
