import { OwnDatabase } from '../testing/own-database.ts';
import { MeasureJobs } from './measure-jobs.ts';

/** Which recording is measured next, of rows as they lie in the database. */

const own = OwnDatabase.forEach();
let jobs: MeasureJobs;
beforeEach(async () => {
  jobs = new MeasureJobs(own.database, ...([] as unknown as [never, never, never]));
  await own.change(`INSERT INTO "title" ("id", "name", "kind", "createdAt") VALUES ('t', 'T', 'podcast', 'd')`);
  for (const [id, createdAt, position] of [
    ['d', '2026-11-02', 0],
    ['b', '2026-11-01', 1],
    ['a', '2026-11-01', 0],
    ['c', '2026-11-01', 2],
  ])
    await own.change(
      `INSERT INTO "recording" ("id", "titleId", "name", "position", "status", "sha256", "sizeBytes", "createdAt") VALUES (?, 't', 'n', ?, 'measuring', 'h', 1, ?)`,
      id,
      position,
      createdAt,
    );
});

const next = () => own.database.transaction((manager) => jobs.next(manager));
const claim = (id: string) =>
  own.change(
    `INSERT INTO "job_claim" ("kind", "subjectId", "itemIds", "titleId", "claimedAt") VALUES ('measure', ?, '[]', 't', 'd')`,
    id,
  );

it('gives out what came first, in its order, and nothing that somebody has', async () => {
  const given: (string | undefined)[] = [];
  for (let id = await next(); id; id = await next()) {
    given.push(id);
    await claim(id);
  }
  expect(given).toEqual(['a', 'b', 'c', 'd']);
  await own.change(`DELETE FROM "job_claim" WHERE "subjectId" = 'c'`);
  expect(await next()).toBe('c');
  await own.change(`UPDATE "recording" SET "status" = 'ready' WHERE "id" = 'c'`);
  expect(await next()).toBeUndefined();
});

it('counts what nobody has yet, to so many as are asked for', async () => {
  await claim('a');
  expect(await jobs.waiting(100)).toBe(3);
  expect(await jobs.waiting(2)).toBe(2);
});
