import type { EntityManager } from 'typeorm';
import { OwnDatabase } from '../testing/own-database.ts';
import { RenderJobs } from './render-jobs.ts';

/** Which item comes next, of rows as they lie in the database. */

const own = OwnDatabase.forEach();
let jobs: RenderJobs;
beforeEach(() => {
  jobs = new RenderJobs({ database: own.database } as never);
});

const next = () => own.database.transaction((manager) => jobs.next(manager));
/** Takes all that is given out, in its order. */
async function taken(): Promise<string[]> {
  const ids: string[] = [];
  for (let id = await next(); id; id = await next()) {
    ids.push(id);
    await own.change(`UPDATE "run_item" SET "status" = 'working' WHERE "id" = ?`, id);
  }
  return ids;
}

async function add(manager: EntityManager, run: string, createdAt: string, items: number, more = '0, 0') {
  await manager.query(
    `INSERT INTO "run" ("id", "titleId", "targetId", "revision", "status", "createdAt", "priority", "paused") VALUES (?, 't', 'g', 1, 'working', ?, ${more})`,
    [run, createdAt],
  );
  for (let k = items - 1; k >= 0; k--) {
    const id = `${run}${k}`;
    await manager.query(
      `INSERT INTO "recording" ("id", "titleId", "name", "position", "status", "sha256", "sizeBytes", "createdAt") VALUES (?, 't', 'n', ?, 'ready', 'h', 1, 'd')`,
      [id, k],
    );
    await manager.query(
      `INSERT INTO "run_item" ("id", "runId", "recordingId", "position", "status") VALUES (?, ?, ?, ?, 'queued')`,
      [id, run, id, k],
    );
  }
}

const filled = () =>
  own.database.transaction(async (manager) => {
    await manager.query(`INSERT INTO "title" ("id", "name", "kind", "createdAt") VALUES ('t', 'T', 'podcast', 'd')`);
    await manager.query(
      `INSERT INTO "target" ("id", "name", "shipped", "file", "createdAt") VALUES ('g', 'G', 1, '{}', 'd')`,
    );
    await add(manager, 'late', '2026-11-02', 2);
    await add(manager, 'early', '2026-11-01', 3);
    await add(manager, 'first', '2026-11-03', 1, '5, 0');
    await add(manager, 'rests', '2026-10-01', 2, '9, 1');
  });

it('gives out what waits by priority, then the older run, then its place; what rests or is measured waits on', async () => {
  expect(await next()).toBeUndefined();
  await filled();
  await own.change(`UPDATE "recording" SET "status" = 'measuring' WHERE "id" IN ('early1', 'late0', 'late1')`);
  expect(await taken()).toEqual(['first0', 'early0', 'early2']);
  await own.change(`UPDATE "recording" SET "status" = 'ready'`);
  expect(await taken()).toEqual(['early1', 'late0', 'late1']);
  await own.change(`UPDATE "run" SET "paused" = 0`);
  expect(await taken()).toEqual(['rests0', 'rests1']);
});

it('counts what waits, to so many as are asked for', async () => {
  await filled();
  expect(await jobs.waiting(100)).toBe(6);
  expect(await jobs.waiting(4)).toBe(4);
  await own.change(`UPDATE "recording" SET "status" = 'measuring' WHERE "id" = 'late0'`);
  expect(await jobs.waiting(100)).toBe(5);
});

it('finds the first of a run without sorting all that waits', async () => {
  const asked: string[] = [];
  await filled();
  await own.database.transaction(async (manager) => {
    const query = manager.query.bind(manager);
    manager.query = ((sql: string, parameters: unknown[]) => {
      asked.push(sql);
      return query(sql, parameters);
    }) as typeof manager.query;
    await jobs.next(manager);
    const plan = (await query(`EXPLAIN QUERY PLAN ${asked.at(-1)}`, ['first'])) as { detail: string }[];
    const steps = plan.map(({ detail }) => detail).join('; ');
    expect(steps).toMatch(/item USING INDEX item_waits/);
    expect(steps).not.toMatch(/TEMP B-TREE/);
  });
});
