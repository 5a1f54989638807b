import { mkdtemp, readFile, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout } from 'node:timers/promises';
import { WorkerTokenEntity } from '../machines/worker-token-entity.ts';
import { Database } from './database.ts';
import { LONG_LOG_BYTES } from './write-ahead-log.ts';

it('questions over many rows see what is committed and no more, and take the log into the file beside the main thread', async () => {
  const folder = await mkdtemp(join(tmpdir(), 'tonos-reader-'));
  const database = await Database.open(folder);
  const names = () => database.many<{ name: string }>('SELECT name FROM worker_token', []);
  try {
    const token = { id: 'a', name: 'Before', secretHash: 'x', createdAt: '2026-01-01T00:00:00.000Z' };
    await database.transaction((manager) => manager.insert(WorkerTokenEntity, token));
    await database.transaction(async (manager) => {
      await manager.update(WorkerTokenEntity, { id: 'a' }, { name: 'Behind' });
      expect(await names()).toEqual([{ name: 'Before' }]);
    });
    expect(await names()).toEqual([{ name: 'Behind' }]);
    const query = database
      .of(WorkerTokenEntity)
      .createQueryBuilder('token')
      .select('token.id', 'id')
      .where({ id: 'a' });
    expect(await database.manyOf(query)).toEqual([{ id: 'a' }]);
    await expect(database.many('DELETE FROM worker_token', [])).rejects.toThrow('readonly');
    await expect(database.many('SELECT nothing FROM worker_token', [])).rejects.toThrow('nothing');
    const [{ busy, log, checkpointed }] = await database.many<Record<string, number>>(
      'PRAGMA wal_checkpoint(PASSIVE)',
      [],
    );
    expect([busy, checkpointed]).toEqual([0, log]);
    expect(await database.rows('PRAGMA synchronous', [])).toEqual([{ synchronous: 1 }]);
  } finally {
    await database.close();
    await rm(folder, { recursive: true });
  }
});

it('a log that was taken into the file begins anew beside the main thread, in turn with changes', async () => {
  const folder = await mkdtemp(join(tmpdir(), 'tonos-reader-'));
  const database = await Database.open(folder);
  // in the head of a log: how often it began anew (https://sqlite.org/walformat.html)
  const log = join(folder, 'tonos.sqlite-wal');
  const begun = async () => (await readFile(log)).readUInt32BE(12);
  const write = (id: string, name = id) =>
    database.transaction((manager) =>
      manager.insert(WorkerTokenEntity, { id, name, secretHash: id, createdAt: '2026-01-01T00:00:00.000Z' }),
    );
  try {
    await write('a');
    const before = await begun();
    // so long that it is taken over at once
    await write('b', 'x'.repeat(LONG_LOG_BYTES));
    const isShort = async () => (await begun()) > before && (await stat(log)).size <= LONG_LOG_BYTES;
    for (let i = 0; i < 2000 && !(await isShort()); i++) await setTimeout(10);
    expect(await isShort()).toBe(true);
    expect(await begun()).toBe(before + 1);
    // others write meanwhile
    const long = write('f', 'x'.repeat(LONG_LOG_BYTES));
    await Promise.all([long, ...Array.from({ length: 20 }, (_, i) => write(`g${i}`))]);
    expect(await database.of(WorkerTokenEntity).count()).toBe(23);
    expect(await database.faults()).toEqual([]);
  } finally {
    await database.close();
    await rm(folder, { recursive: true });
  }
});
