import type { MigrationInterface, QueryRunner } from 'typeorm';

/** A recording can have several takes, of which one is current. */
export class Takes1764400000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "recording" ADD COLUMN "takeOf" text NOT NULL DEFAULT ''`);
    await runner.query(`ALTER TABLE "recording" ADD COLUMN "superseded" boolean NOT NULL DEFAULT 0`);
    await runner.query(`UPDATE "recording" SET "takeOf" = "id"`);
    await runner.query(`CREATE INDEX "recording_takeOf" ON "recording" ("takeOf")`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`DROP INDEX "recording_takeOf"`);
    for (const name of ['takeOf', 'superseded']) await runner.query(`ALTER TABLE "recording" DROP COLUMN "${name}"`);
  }
}
