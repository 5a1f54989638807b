import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Delivered files can be cleared, and made again from their recipes. */
export class Cleared1765100000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "run_item" ADD COLUMN "cleared" boolean NOT NULL DEFAULT 0`);
    await runner.query(`ALTER TABLE "run_item" ADD COLUMN "remake" boolean NOT NULL DEFAULT 0`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "run_item" DROP COLUMN "remake"`);
    await runner.query(`ALTER TABLE "run_item" DROP COLUMN "cleared"`);
  }
}
