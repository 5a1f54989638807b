import type { MigrationInterface, QueryRunner } from 'typeorm';

/** A title can have a folder that is watched; what came from there is remembered, so that it comes once. */
export class Inbox1764800000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "title" ADD COLUMN "inbox" text`);
    await runner.query(
      `CREATE TABLE "arrival" ("titleId" text NOT NULL REFERENCES "title" ("id"), "file" text NOT NULL, "stamp" text NOT NULL,
        "recordingId" text NOT NULL REFERENCES "recording" ("id"), "isRun" boolean NOT NULL, PRIMARY KEY ("titleId", "file", "stamp"))`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE "arrival"');
    await runner.query(`ALTER TABLE "title" DROP COLUMN "inbox"`);
  }
}
