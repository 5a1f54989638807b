import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Running orders with their revisions; what a run of one is made from, and where the parts of its items lie. */
export class Orders1766200000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE "running_order" ("id" text PRIMARY KEY NOT NULL, "titleId" text NOT NULL REFERENCES "title" ("id"), "name" text NOT NULL,
        "revision" integer NOT NULL, "version" integer NOT NULL, "draft" text, "createdAt" text NOT NULL,
        "changedAt" text NOT NULL, "trashedAt" text)`,
    );
    await runner.query(`CREATE INDEX "running_order_title" ON "running_order" ("titleId")`);
    await runner.query(
      `CREATE TABLE "order_revision" ("orderId" text NOT NULL REFERENCES "running_order" ("id"), "revision" integer NOT NULL,
        "file" text NOT NULL, "note" text NOT NULL, "author" text NOT NULL, "createdAt" text NOT NULL,
        PRIMARY KEY ("orderId", "revision"))`,
    );
    await remade(runner, '"chainId" text');
    await runner.query(`ALTER TABLE "run" ADD COLUMN "orderId" text REFERENCES "running_order" ("id")`);
    await runner.query(`ALTER TABLE "run" ADD COLUMN "order" text`);
    for (const column of ITEM_COLUMNS) await runner.query(`ALTER TABLE "run_item" ADD COLUMN "${column}" text`);
  }

  /** Runs of orders have no place in what was before. */
  async down(runner: QueryRunner): Promise<void> {
    const gone = `SELECT "id" FROM "run" WHERE "chainId" IS NULL`;
    await runner.query(
      `DELETE FROM "run_attempt" WHERE "itemId" IN (SELECT "id" FROM "run_item" WHERE "runId" IN (${gone}))`,
    );
    await runner.query(`DELETE FROM "run_item" WHERE "runId" IN (${gone})`);
    await runner.query(`DELETE FROM "run" WHERE "chainId" IS NULL`);
    for (const column of ITEM_COLUMNS) await runner.query(`ALTER TABLE "run_item" DROP COLUMN "${column}"`);
    await runner.query(`ALTER TABLE "run" DROP COLUMN "order"`);
    await runner.query(`ALTER TABLE "run" DROP COLUMN "orderId"`);
    await remade(runner, '"chainId" text NOT NULL');
    await runner.query(`DROP TABLE "order_revision"`);
    await runner.query(`DROP TABLE "running_order"`);
  }
}

const ITEM_COLUMNS = ['fill', 'parts', 'chapters'];

/** SQLite can't say otherwise of a column whether it may be empty: the table is made again, with all that lies in it. */
async function remade(runner: QueryRunner, chainId: string): Promise<void> {
  await runner.query('PRAGMA defer_foreign_keys = ON');
  await runner.query('CREATE TABLE "run_before" AS SELECT * FROM "run"');
  await runner.query('DELETE FROM "run"');
  await runner.query('DROP TABLE "run"');
  await runner.query(
    `CREATE TABLE "run" (
    "id" text PRIMARY KEY NOT NULL, "titleId" text NOT NULL REFERENCES "title" ("id"), ${chainId}, "revision" integer NOT NULL,
    "targetId" text NOT NULL REFERENCES "target" ("id"), "status" text NOT NULL CHECK ("status" IN ('queued', 'working', 'finished', 'cancelled')),
    "createdAt" text NOT NULL, "startedAt" text, "finishedAt" text, "paused" boolean NOT NULL DEFAULT 0,
    "priority" integer NOT NULL DEFAULT 0, "trashedAt" text,
    FOREIGN KEY ("chainId", "revision") REFERENCES "chain_revision" ("chainId", "revision"))`,
  );
  const columns = `"id", "titleId", "chainId", "revision", "targetId", "status", "createdAt", "startedAt", "finishedAt", "paused", "priority", "trashedAt"`;
  await runner.query(`INSERT INTO "run" (${columns}) SELECT ${columns} FROM "run_before"`);
  await runner.query('DROP TABLE "run_before"');
}
