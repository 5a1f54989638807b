import type { MigrationInterface, QueryRunner } from 'typeorm';

/** An item says where the moments of its source lie in what was delivered. */
export class TimeMap1765900000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "run_item" ADD COLUMN "timeMap" text`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "run_item" DROP COLUMN "timeMap"`);
  }
}
