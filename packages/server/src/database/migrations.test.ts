import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { DataSource } from 'typeorm';
import { databaseAt } from './database.ts';

let folder: string;
let source: DataSource;
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'tonos-database-'));
  source = await databaseAt(folder).initialize();
});
afterEach(async () => {
  await source.destroy();
  await rm(folder, { recursive: true });
});

const schema = async (): Promise<string[]> => {
  const rows: { sql: string }[] = await source.query(
    "SELECT sql FROM sqlite_master WHERE sql IS NOT NULL AND name NOT LIKE 'sqlite_%' AND name != 'migrations' ORDER BY type, name",
  );
  return rows.map(({ sql }) => sql);
};

it('every step of the schema can be taken back, down to nothing, and comes up again the same', async () => {
  const whole = await schema();
  const steps = source.migrations.length;
  expect(steps).toBeGreaterThan(10);
  for (let k = 0; k < steps; k++) await source.undoLastMigration();
  expect(await schema()).toEqual([]);
  await source.runMigrations();
  expect(await schema()).toEqual(whole);
});

it('the tables are those that the entities speak of, column by column', async () => {
  for (const { tableName, columns } of source.entityMetadatas) {
    const found: { name: string; notnull: number; pk: number }[] = await source.query(
      `PRAGMA table_info("${tableName}")`,
    );
    const made = found.map(({ name, notnull, pk }) => `${name}${notnull || pk ? '' : '?'}`);
    const meant = columns.map(({ databaseName, isNullable }) => `${databaseName}${isNullable ? '?' : ''}`);
    expect([tableName, ...made.toSorted()]).toEqual([tableName, ...meant.toSorted()]);
  }
});

it('a run of an earlier version keeps its items, and all that refers to it, when its table is made again', async () => {
  const rows = async () => ({
    runs: await source.query('SELECT id, "chainId", revision, paused FROM run'),
    items: await source.query('SELECT id, "runId" FROM run_item'),
    faults: await source.query('PRAGMA foreign_key_check'),
  });
  const insert = (table: string, row: Record<string, string | number>) =>
    source.query(
      `INSERT INTO ${table} (${Object.keys(row)
        .map((name) => `"${name}"`)
        .join(', ')}) VALUES (${Object.keys(row)
        .map(() => '?')
        .join(', ')})`,
      Object.values(row),
    );
  const made = async (table: string, own: Record<string, string | number>) => {
    const columns: { name: string; notnull: number; dflt_value: unknown; type: string }[] = await source.query(
      `PRAGMA table_info("${table}")`,
    );
    const needed = columns.filter((column) => column.notnull && column.dflt_value === null);
    const rest = Object.fromEntries(needed.map(({ name, type }) => [name, type === 'text' ? '{}' : 0]));
    await insert(table, { ...rest, ...own });
  };
  while ((await source.query("SELECT 1 FROM sqlite_master WHERE name = 'running_order'")).length)
    await source.undoLastMigration();
  await made('title', { id: 't', kind: 'podcast' });
  await made('recording', { id: 'r', titleId: 't', status: 'ready', overview: '[[-1,1]]' });
  await made('chain', { id: 'c' });
  await made('chain_revision', { chainId: 'c', revision: 3 });
  await made('target', { id: 'g' });
  await made('run', { id: 'u', titleId: 't', chainId: 'c', revision: 3, targetId: 'g', status: 'finished', paused: 1 });
  await made('run_item', { id: 'i', runId: 'u', recordingId: 'r', status: 'within' });
  const before = await rows();
  expect(before).toMatchObject({ runs: [{ id: 'u', revision: 3, paused: 1 }], items: [{ id: 'i' }], faults: [] });
  await source.runMigrations();
  expect(await rows()).toEqual(before);
  // pictures have a table of their own since, and go with what they show
  const pictures = () => source.query('SELECT "recordingId", levels FROM recording_overview');
  expect(await pictures()).toEqual([{ recordingId: 'r', levels: '[[-1,1]]' }]);
  // what it refers to must still be there
  await expect(source.query("DELETE FROM run WHERE id = 'u'")).rejects.toThrow(/FOREIGN KEY/);
});

it('a step back and forth keeps what was there', async () => {
  await source.query(
    "INSERT INTO preset (id, kind, name, tags, settings, createdAt, changedAt) VALUES ('a', 'gain', 'Up', '[]', '{}', 'now', 'now')",
  );
  await source.undoLastMigration();
  await source.runMigrations();
  expect(await source.query('SELECT id, name FROM preset')).toEqual([{ id: 'a', name: 'Up' }]);
});
