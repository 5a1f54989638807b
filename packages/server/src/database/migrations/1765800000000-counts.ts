import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Runs are counted and timed from an index: rows are long, since they carry measurements. */
export class Counts1765800000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `ALTER TABLE "run_item" ADD COLUMN "soundSeconds" real GENERATED ALWAYS AS (json_extract("before", '$.durationSeconds')) VIRTUAL`,
    );
    await runner.query(
      `CREATE INDEX "item_counts" ON "run_item" ("runId", "status", "accepted", "seconds", "soundSeconds")`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`DROP INDEX "item_counts"`);
    await runner.query(`ALTER TABLE "run_item" DROP COLUMN "soundSeconds"`);
  }
}
