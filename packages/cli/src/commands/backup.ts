import { createHash } from 'node:crypto';
import { createReadStream, existsSync } from 'node:fs';
import { mkdir, open, readdir, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { TonosError } from '@tonos/core';
import Database from 'libsql';
import { EXIT } from '../exit-status.ts';
import { UsageError } from '../usage-error.ts';
import { DATABASE, dataFolder, folderWithDatabase } from './data-folder.ts';

const BLOBS = 'blobs';
const HASH = /^[0-9a-f]{64}$/;

/** Every file that a database speaks of and that nothing could make again, by its hash. */
const NEEDED = `
  SELECT sha256 FROM recording WHERE removedAt IS NULL
  UNION SELECT outputSha256 FROM run_item WHERE outputSha256 IS NOT NULL AND NOT cleared
  UNION SELECT json_extract(cover, '$.sha256') FROM title WHERE cover IS NOT NULL`;

/** What of a database's files does not lie in a folder. */
async function missingOf(databasePath: string, blobs: string): Promise<string[]> {
  const database = new Database(databasePath, { readonly: true });
  try {
    const needed = (database.prepare(NEEDED).all() as { sha256: string }[]).map(({ sha256 }) => sha256);
    return needed.filter((sha256) => !existsSync(join(blobs, sha256)));
  } finally {
    database.close();
  }
}

/** Copies a file by its content: it stands under its name only when it is whole, and what its name says. */
async function copyBlob(from: string, to: string, sha256: string): Promise<void> {
  const part = join(to, `${sha256}.part`);
  const hash = createHash('sha256');
  try {
    const file = await open(part, 'w');
    await pipeline(
      createReadStream(join(from, sha256)),
      async function* (chunks: AsyncIterable<Buffer>) {
        for await (const chunk of chunks) {
          hash.update(chunk);
          yield chunk;
        }
      },
      file.createWriteStream({ flush: true }),
    );
    const found = hash.digest('hex');
    if (found !== sha256)
      throw new TonosError('damaged', `${join(from, sha256)} is damaged: its content has the hash ${found}.`);
    await rename(part, join(to, sha256));
  } finally {
    await rm(part, { force: true });
  }
}

/** Copies what is not there yet. @returns how many files and bytes came, and what is wrong with the others */
async function copyBlobs(from: string, to: string): Promise<{ files: number; bytes: number; faults: string[] }> {
  await mkdir(to, { recursive: true });
  const there = new Set(await readdir(to));
  const done = { files: 0, bytes: 0, faults: [] as string[] };
  for (const name of (await readdir(from)).filter((one) => HASH.test(one) && !there.has(one))) {
    try {
      const { size } = await stat(join(from, name));
      await copyBlob(from, to, name);
      done.files++;
      done.bytes += size;
    } catch (error) {
      // what the server deletes meanwhile is in no database that counts
      if ((error as NodeJS.ErrnoException).code !== 'ENOENT') done.faults.push((error as Error).message);
    }
  }
  return done;
}

const inMegabytes = (bytes: number): string => `${(bytes / 1e6).toFixed(1)} MB`;

/** Says what is wrong, a line each. @returns the exit status */
function settled(faults: readonly string[]): number {
  for (const fault of faults) process.stderr.write(`${fault}\n`);
  return faults.length ? EXIT.unprocessed : EXIT.within;
}

/**
 * Copies the data folder's database and files while the server runs. The database is SQLite's own copy of one moment; files never change,
 * and only new ones are copied. The copy before stands until this one is whole.
 */
export async function backup({ to }: { to: string }): Promise<number> {
  const data = folderWithDatabase();
  await mkdir(to, { recursive: true });
  const part = join(to, `${DATABASE}.part`);
  await rm(part, { force: true });
  const database = new Database(join(data, DATABASE), { timeout: 30_000 });
  try {
    // the one statement by which SQLite copies a database that others write to
    database.exec(`VACUUM INTO '${part.replaceAll("'", "''")}'`);
  } finally {
    database.close();
  }
  const { files, bytes, faults } = await copyBlobs(join(data, BLOBS), join(to, BLOBS));
  const missing = await missingOf(part, join(to, BLOBS));
  await rename(part, join(to, DATABASE));
  process.stdout.write(`Backed up to ${to}: the database, and ${files} new files (${inMegabytes(bytes)}).\n`);
  return settled([...faults, ...missing.map((sha256) => `${sha256} is named by the database and lies nowhere.`)]);
}

/** Brings a backup back into a data folder that is not there yet, or empty. Every file is compared with its hash. */
export async function restore({ from }: { from: string }): Promise<number> {
  const data = dataFolder();
  if (!existsSync(join(from, DATABASE)))
    throw new UsageError(`${from} holds no backup: there is no ${DATABASE} in it.`);
  if (existsSync(join(data, DATABASE)))
    throw new UsageError(
      `${data} holds a database already. Set TONOS_DATA to a folder that is not there yet, or empty.`,
    );
  await mkdir(data, { recursive: true });
  const { files, bytes, faults } = await copyBlobs(join(from, BLOBS), join(data, BLOBS));
  const missing = await missingOf(join(from, DATABASE), join(data, BLOBS));
  const part = join(data, `${DATABASE}.part`);
  const source = new Database(join(from, DATABASE), { readonly: true });
  try {
    source.exec(`VACUUM INTO '${part.replaceAll("'", "''")}'`);
  } finally {
    source.close();
  }
  await rename(part, join(data, DATABASE));
  process.stdout.write(`Restored to ${data}: the database, and ${files} files (${inMegabytes(bytes)}).\n`);
  return settled([
    ...faults,
    ...missing.map((sha256) => `${sha256} is named by the database and lies not in the backup.`),
  ]);
}
