import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Whether an attempt's file was cleared stands in a column of its own: the account of the store need not read whole outcomes. */
export class ClearedAttempts1765300000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "run_attempt" ADD COLUMN "cleared" boolean NOT NULL DEFAULT 0`);
    await runner.query(`UPDATE "run_attempt" SET "cleared" = 1 WHERE json_extract("outcome", '$.cleared') = 1`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "run_attempt" DROP COLUMN "cleared"`);
  }
}
