import { mkdir, mkdtemp } from 'node:fs/promises';
import { join } from 'node:path';
import { UsageError } from './usage-error.ts';

/** Makes a folder for what comes out, and in it one for spools: there is room for those too. @returns the path of the spools */
export async function makeFolders(out: string): Promise<string> {
  try {
    await mkdir(out, { recursive: true });
    return await mkdtemp(join(out, '.tonos-spool-'));
  } catch (cause) {
    throw new UsageError(`The folder ${out} can't be written to. Choose another with --out.`, { cause });
  }
}
