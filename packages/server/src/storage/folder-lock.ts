import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import { TonosError } from '@tonos/core';
import Libsql from 'libsql';

/**
 * One server a data folder. The lock is SQLite's on a database of its own, which the system gives back at once however the process ends:
 * no start has to wait until a lock that was left behind has grown old.
 * @param variable by which another folder is chosen
 * @throws TonosError `folder-in-use` where another server has it, `no-folder` where it can't be made
 */
export async function lockFolder(folder: string, variable = 'TONOS_DATA'): Promise<{ release(): void }> {
  await mkdir(folder, { recursive: true }).catch((cause: Error) => {
    throw new TonosError(
      'no-folder',
      `${folder} can't be made: ${cause.message}. Let Tonos write there, or choose another folder with ${variable}.`,
    );
  });
  const database = new Libsql(join(folder, 'in-use.sqlite'), { timeout: 0 });
  try {
    database.exec('BEGIN EXCLUSIVE');
  } catch (cause) {
    database.close();
    if (!String((cause as Error).message).includes('locked')) throw cause;
    throw new TonosError(
      'folder-in-use',
      `Another Tonos is working in ${folder}. End it, or give this one a folder of its own with ${variable}.`,
    );
  }
  return {
    release: () => {
      database.exec('ROLLBACK');
      database.close();
    },
  };
}
