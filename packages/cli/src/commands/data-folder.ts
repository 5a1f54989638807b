import { existsSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import { UsageError } from '../usage-error.ts';

export const DATABASE = 'tonos.sqlite';

/** As the server has it: TONOS_DATA, or `data` in the project. */
export function dataFolder(): string {
  if (process.env.TONOS_DATA) return resolve(process.env.TONOS_DATA);
  let folder = fileURLToPath(new URL('..', import.meta.url));
  while (!existsSync(join(folder, 'package-lock.json'))) {
    const above = resolve(folder, '..');
    if (above === folder) throw new UsageError('Set TONOS_DATA to the data folder.');
    folder = above;
  }
  return join(folder, 'data');
}

/** @throws UsageError where no server has worked in it */
export function folderWithDatabase(): string {
  const data = dataFolder();
  if (existsSync(join(data, DATABASE))) return data;
  throw new UsageError(`${data} holds no ${DATABASE}. Set TONOS_DATA to the data folder of the server.`);
}
