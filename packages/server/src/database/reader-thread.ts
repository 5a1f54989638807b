import { workerData } from 'node:worker_threads';
import { LibsqlConnection } from './libsql-driver.ts';
import type { Question } from './reader.ts';
import { BEGIN_LOG, LONG_LOG_BYTES } from './write-ahead-log.ts';

/** As long as a write may hold up one who reads: in WAL mode only while the file is made anew. */
const PATIENCE_MS = 5000;

// the pool hands over what it was given in second place
const [, path] = workerData as [unknown, string];
const connection = new LibsqlConnection(path, { timeout: PATIENCE_MS });
// who begins the log anew cuts it, by their own limit
connection.pragma(`journal_size_limit = ${LONG_LOG_BYTES}`);
connection.pragma('query_only = 1');

/** Answers one question of the server's main thread. @returns its rows @throws Error with SQLite's own words */
export default ({ sql, parameters }: Question): Record<string, unknown>[] => {
  try {
    return connection.prepare(sql).all(...parameters);
  } catch (error) {
    // the driver's own errors lose their words on the way to another thread
    throw new Error((error as Error).message);
  }
};

/** A log that begins anew does so here. Whoever writes meanwhile is held, with their whole thread, until the disk has its head. */
export function beginLog(): void {
  connection.pragma('query_only = 0');
  try {
    connection.exec(BEGIN_LOG);
  } finally {
    connection.pragma('query_only = 1');
  }
}
