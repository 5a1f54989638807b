import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Targets have versions, chains are starred, tagged and archived; presets keep the settings of single steps. */
export class Keeping1764600000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    for (const name of ['starred', 'archived'])
      await runner.query(`ALTER TABLE "chain" ADD COLUMN "${name}" boolean NOT NULL DEFAULT 0`);
    await runner.query(`ALTER TABLE "chain" ADD COLUMN "tags" text NOT NULL DEFAULT '[]'`);
    await runner.query(`ALTER TABLE "chain" ADD COLUMN "notes" text NOT NULL DEFAULT ''`);
    const latest = `FROM "chain_revision" WHERE "chainId" = "chain"."id" AND "revision" = "chain"."revision"`;
    await runner.query(
      `UPDATE "chain" SET "tags" = (SELECT json_extract("file", '$.tags') ${latest}), "notes" = (SELECT json_extract("file", '$.notes') ${latest})`,
    );
    await runner.query(`ALTER TABLE "target" ADD COLUMN "version" integer NOT NULL DEFAULT 1`);
    await runner.query(`ALTER TABLE "target" ADD COLUMN "superseded" boolean NOT NULL DEFAULT 0`);
    await runner.query(
      `CREATE TABLE "preset" ("id" text PRIMARY KEY NOT NULL, "kind" text NOT NULL, "name" text NOT NULL, "tags" text NOT NULL,
        "settings" text NOT NULL, "createdAt" text NOT NULL, "changedAt" text NOT NULL)`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE "preset"');
    for (const name of ['version', 'superseded']) await runner.query(`ALTER TABLE "target" DROP COLUMN "${name}"`);
    for (const name of ['starred', 'archived', 'tags', 'notes'])
      await runner.query(`ALTER TABLE "chain" DROP COLUMN "${name}"`);
  }
}
