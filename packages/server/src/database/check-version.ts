import { existsSync } from 'node:fs';
import { TonosError } from '@tonos/core';
import { LibsqlConnection } from './libsql-driver.ts';

/**
 * Looks before anything is changed whether a newer version has worked on a database: this one would lose what it does not know.
 * @param path of the database's file, which need not be there
 * @param known names of the steps of the schema that this version has
 * @throws TonosError `newer-data`
 */
export function checkVersion(path: string, known: readonly string[]): void {
  if (!existsSync(path)) return;
  const database = new LibsqlConnection(path, {});
  try {
    const [table] = database.prepare("SELECT name FROM sqlite_master WHERE name = 'migrations'").all();
    const made = table ? database.prepare('SELECT name FROM migrations').all() : [];
    if (made.every(({ name }) => known.includes(name as string))) return;
    throw new TonosError(
      'newer-data',
      `${path} was last used by a newer Tonos, and this one would lose what it does not know. Start the newer one, or choose another folder with TONOS_DATA.`,
    );
  } finally {
    database.close();
  }
}
