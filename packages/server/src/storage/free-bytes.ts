import { statfs } from 'node:fs/promises';

/** What is free on the disk that a folder lies on. */
export async function freeBytes(folder: string): Promise<number> {
  const { bavail, bsize } = await statfs(folder);
  return bavail * bsize;
}
