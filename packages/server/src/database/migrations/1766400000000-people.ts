import type { MigrationInterface, QueryRunner } from 'typeorm';

const COLUMNS: readonly [table: string, column: string, type: string][] = [
  ['title', 'closed', 'boolean NOT NULL DEFAULT 0'],
  ['title', 'approvedOnly', 'boolean NOT NULL DEFAULT 0'],
  ['run', 'by', `text NOT NULL DEFAULT ''`],
  ['run', 'unapproved', `text NOT NULL DEFAULT '[]'`],
  ['target', 'personId', 'text'],
  ['target', 'approval', 'text'],
  ['chain_revision', 'approval', 'text'],
  ['order_revision', 'approval', 'text'],
  ['recording', 'personId', 'text'],
];

/** People: who they are, how they come in, what they did; drafts of their own; what a lead stands for. */
export class People1766400000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE "person" ("id" text PRIMARY KEY NOT NULL, "name" text NOT NULL, "role" text NOT NULL, "passwordHash" text,
       "subject" text, "titles" text NOT NULL, "createdAt" text NOT NULL, "leftAt" text)`,
    );
    await runner.query(
      `INSERT INTO "person" VALUES ('first', '', 'owner', NULL, NULL, '[]', strftime('%Y-%m-%dT%H:%M:%fZ', 'now'), NULL)`,
    );
    await runner.query(
      `CREATE TABLE "session" ("id" text PRIMARY KEY NOT NULL, "secretHash" text NOT NULL, "personId" text NOT NULL,
       "createdAt" text NOT NULL, "lastUsedAt" text NOT NULL, "browser" text NOT NULL)`,
    );
    await runner.query(
      `CREATE TABLE "token" ("id" text PRIMARY KEY NOT NULL, "secretHash" text NOT NULL, "personId" text NOT NULL,
       "name" text NOT NULL, "role" text NOT NULL, "createdAt" text NOT NULL, "endsAt" text NOT NULL, "lastUsedAt" text)`,
    );
    await runner.query(
      `CREATE TABLE "link" ("id" text PRIMARY KEY NOT NULL, "secretHash" text NOT NULL, "kind" text NOT NULL, "role" text NOT NULL,
       "titleIds" text NOT NULL, "personId" text, "byId" text NOT NULL, "createdAt" text NOT NULL, "endsAt" text NOT NULL)`,
    );
    await runner.query(
      `CREATE TABLE "account_entry" ("id" text PRIMARY KEY NOT NULL, "at" text NOT NULL, "personId" text, "personName" text NOT NULL,
       "kind" text NOT NULL, "titleId" text, "chainId" text, "sentence" text NOT NULL)`,
    );
    for (const column of ['at', 'titleId', 'chainId'])
      await runner.query(`CREATE INDEX "account_${column}" ON "account_entry" ("${column}", "at")`);
    // what was said stays said
    for (const act of ['UPDATE', 'DELETE'])
      await runner.query(
        `CREATE TRIGGER "account_no_${act.toLowerCase()}" BEFORE ${act} ON "account_entry"
         BEGIN SELECT RAISE(ABORT, 'the account is not edited'); END`,
      );
    await runner.query(
      `CREATE TABLE "draft" ("thing" text NOT NULL, "thingId" text NOT NULL, "personId" text NOT NULL, "content" text,
       "version" integer NOT NULL, "since" text NOT NULL, "changedAt" text NOT NULL, PRIMARY KEY ("thing", "thingId", "personId"))`,
    );
    for (const [thing, table] of [
      ['chain', 'chain'],
      ['order', 'running_order'],
    ]) {
      await runner.query(
        `INSERT INTO "draft" SELECT '${thing}', id, 'first', draft, 0, changedAt, changedAt FROM "${table}" WHERE draft IS NOT NULL`,
      );
      await runner.query(`ALTER TABLE "${table}" DROP COLUMN "draft"`);
    }
    for (const [table, column, type] of COLUMNS)
      await runner.query(`ALTER TABLE "${table}" ADD COLUMN "${column}" ${type}`);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const [table, column] of COLUMNS) await runner.query(`ALTER TABLE "${table}" DROP COLUMN "${column}"`);
    for (const [thing, table] of [
      ['chain', 'chain'],
      ['order', 'running_order'],
    ]) {
      await runner.query(`ALTER TABLE "${table}" ADD COLUMN "draft" text`);
      await runner.query(
        `UPDATE "${table}" SET draft = (SELECT content FROM "draft" WHERE thing = '${thing}' AND thingId = "${table}".id AND personId = 'first')`,
      );
    }
    for (const table of ['person', 'session', 'token', 'link', 'account_entry', 'draft'])
      await runner.query(`DROP TABLE "${table}"`);
  }
}
