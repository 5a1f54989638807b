import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { pipeline } from 'node:stream/promises';

/** SHA-256 of bytes. */
export const bytesHash = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

/** SHA-256 of a file’s content. @throws what the file system says, as where there is none */
export async function fileHash(path: string): Promise<string> {
  const hash = createHash('sha256');
  await pipeline(createReadStream(path), hash);
  return hash.digest('hex');
}
