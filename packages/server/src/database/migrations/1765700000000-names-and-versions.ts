import type { MigrationInterface, QueryRunner } from 'typeorm';

/** A recording has a name of its own, and counts its changes; a title says more of itself; what was delivered of a recording is found. */
export class NamesAndVersions1765700000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "recording" ADD COLUMN "givenName" text NOT NULL DEFAULT ''`);
    await runner.query(`ALTER TABLE "recording" ADD COLUMN "version" integer NOT NULL DEFAULT 1`);
    await runner.query(`ALTER TABLE "title" ADD COLUMN "details" text NOT NULL DEFAULT '{}'`);
    await runner.query(`ALTER TABLE "title" ADD COLUMN "archived" boolean NOT NULL DEFAULT 0`);
    await runner.query(`CREATE INDEX "item_of_recording" ON "run_item" ("recordingId")`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`DROP INDEX "item_of_recording"`);
    for (const name of ['archived', 'details']) await runner.query(`ALTER TABLE "title" DROP COLUMN "${name}"`);
    for (const name of ['version', 'givenName']) await runner.query(`ALTER TABLE "recording" DROP COLUMN "${name}"`);
  }
}
