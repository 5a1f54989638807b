import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Recordings can have a chain adjusted; items keep what they were made from, and why one off target was accepted. */
export class Recipes1764500000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "recording" ADD COLUMN "adjustments" text NOT NULL DEFAULT '{}'`);
    await runner.query(`ALTER TABLE "run_item" ADD COLUMN "recipe" text`);
    await runner.query(`ALTER TABLE "run_item" ADD COLUMN "accepted" text`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "recording" DROP COLUMN "adjustments"`);
    for (const name of ['recipe', 'accepted']) await runner.query(`ALTER TABLE "run_item" DROP COLUMN "${name}"`);
  }
}
