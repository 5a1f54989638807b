import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { WorkerTokenEntity } from '../machines/worker-token-entity.ts';
import { Database } from './database.ts';

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
