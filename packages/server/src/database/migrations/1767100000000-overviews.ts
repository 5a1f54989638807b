import type { MigrationInterface, QueryRunner } from 'typeorm';

/** A recording's picture lies beside its row: it is ten times as long as all the rest, and SQLite writes the whole row whenever a label changes. */
export class Overviews1767100000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE "recording_overview" ("recordingId" text PRIMARY KEY NOT NULL REFERENCES "recording" ("id") ON DELETE CASCADE, "levels" text NOT NULL)`,
    );
    await runner.query(
      `INSERT INTO "recording_overview" ("recordingId", "levels") SELECT "id", "overview" FROM "recording" WHERE "overview" IS NOT NULL`,
    );
    await runner.query(`ALTER TABLE "recording" DROP COLUMN "overview"`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "recording" ADD COLUMN "overview" text`);
    await runner.query(
      `UPDATE "recording" SET "overview" = (SELECT "levels" FROM "recording_overview" WHERE "recordingId" = "recording"."id")`,
    );
    await runner.query(`DROP TABLE "recording_overview"`);
  }
}
