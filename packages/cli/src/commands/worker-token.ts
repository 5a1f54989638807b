import { createHash, randomBytes, randomUUID } from 'node:crypto';
import { join } from 'node:path';
import Database from 'libsql';
import { EXIT } from '../exit-status.ts';
import { UsageError } from '../usage-error.ts';
import { DATABASE, folderWithDatabase } from './data-folder.ts';

const LONGEST_NAME = 100;

/**
 * Makes a token by which a machine works along, or ends one, in the database of the server, whether that runs or not. The token alone goes to
 * standard output; the database has only its hash.
 */
export async function workerToken({ name, revoke }: { name?: string; revoke?: string }): Promise<number> {
  if ((name === undefined) === (revoke === undefined)) throw new UsageError('Give either --name or --revoke.');
  const database = new Database(join(folderWithDatabase(), DATABASE), { timeout: 10_000 });
  try {
    if (!database.prepare(`SELECT 1 FROM sqlite_master WHERE name = 'worker_token'`).get())
      throw new UsageError('The data folder is of an earlier version: start its server once with this one.');
    if (revoke !== undefined) return end(database, revoke);
    const called = name!.trim();
    if (!called || called.length > LONGEST_NAME)
      throw new UsageError(`Give the token a name of 1 to ${LONGEST_NAME} characters.`);
    const token = `tnw_${randomBytes(32).toString('base64url')}`;
    database
      .prepare('INSERT INTO worker_token (id, name, secretHash, createdAt) VALUES (?, ?, ?, ?)')
      .run(randomUUID(), called, createHash('sha256').update(token).digest('hex'), new Date().toISOString());
    process.stdout.write(`${token}\n`);
    return EXIT.within;
  } finally {
    database.close();
  }
}

/** By its name, or by its id where several have one name. */
function end(database: Database.Database, which: string): number {
  const { changes } = database.prepare('DELETE FROM worker_token WHERE name = ? OR id = ?').run(which, which);
  if (!changes) throw new UsageError(`There is no worker token called ${which}.`);
  process.stderr.write(`Ended ${which}: machines that speak by it are not heard any more.\n`);
  return EXIT.within;
}
