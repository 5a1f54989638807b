import { randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { link, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { HttpProblem } from '../http/problems.ts';
import { isDiskFull } from '../storage/disk-trouble.ts';

/**
 * Writes a package into a folder under a name that is free: it is there whole, or not at all.
 * @returns the name it got, and its size
 */
export async function deliverToFolder(
  folder: string,
  bagName: string,
  content: Readable,
): Promise<{ name: string; sizeBytes: number }> {
  const temporary = join(folder, `.${randomUUID()}.part`);
  try {
    await pipeline(content, createWriteStream(temporary, { flags: 'wx', flush: true }));
    const { size } = await stat(temporary);
    for (let number = 1; ; number++) {
      const name = number === 1 ? `${bagName}.zip` : `${bagName} (${number}).zip`;
      if (await take(temporary, join(folder, name))) return { name, sizeBytes: size };
    }
  } catch (cause) {
    const { code } = cause as NodeJS.ErrnoException;
    if (isDiskFull(cause))
      throw new HttpProblem(507, 'no-room', 'There is no room for the package in that folder. Nothing was left there.');
    if (code === 'EACCES' || code === 'EROFS' || code === 'EPERM')
      throw new HttpProblem(403, 'read-only', 'Tonos may not write into that folder: ask who runs the server.');
    throw cause;
  } finally {
    await rm(temporary, { force: true });
  }
}

/** Gives a file its name unless that is taken; where the disk knows no links, by a look before. */
async function take(from: string, to: string): Promise<boolean> {
  try {
    await link(from, to);
    return true;
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (code === 'EEXIST') return false;
    if (code !== 'ENOTSUP' && code !== 'EPERM' && code !== 'ENOSYS') throw error;
  }
  if (await stat(to).catch(() => undefined)) return false;
  await rename(from, to);
  return true;
}
