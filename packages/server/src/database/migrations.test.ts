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

it('a step back and forth keeps what was there', async () => {
  await source.query(
    "INSERT INTO preset (id, kind, name, tags, settings, createdAt, changedAt) VALUES ('a', 'gain', 'Up', '[]', '{}', 'now', 'now')",
  );
  await source.undoLastMigration();
  await source.runMigrations();
  expect(await source.query('SELECT id, name FROM preset')).toEqual([{ id: 'a', name: 'Up' }]);
});
