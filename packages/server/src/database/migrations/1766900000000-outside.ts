import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Sound goes out to other programs, and comes back to its place. */
export class Outside1766900000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "recording" ADD COLUMN "frozen" text NOT NULL DEFAULT '{}'`);
    await runner.query(
      `CREATE TABLE "outing" ("id" text PRIMARY KEY NOT NULL, "recordingId" text NOT NULL, "titleId" text NOT NULL, "chainId" text, "stepId" text, "stepTitle" text, "steps" text NOT NULL, "fileName" text NOT NULL UNIQUE, "state" text NOT NULL, "note" text NOT NULL, "lies" text, "timeMap" text, "basis" text NOT NULL, "createdAt" text NOT NULL, "backAt" text, "backSha256" text, "stamp" text NOT NULL, "takeBefore" text)`,
    );
    await runner.query(`CREATE INDEX "outing_recording" ON "outing" ("recordingId")`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE "outing"');
    await runner.query(`ALTER TABLE "recording" DROP COLUMN "frozen"`);
  }
}
