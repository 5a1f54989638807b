import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Runs can rest, and be put before others. */
export class RunOrder1764700000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "run" ADD COLUMN "paused" boolean NOT NULL DEFAULT 0`);
    await runner.query(`ALTER TABLE "run" ADD COLUMN "priority" integer NOT NULL DEFAULT 0`);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const name of ['paused', 'priority']) await runner.query(`ALTER TABLE "run" DROP COLUMN "${name}"`);
  }
}
