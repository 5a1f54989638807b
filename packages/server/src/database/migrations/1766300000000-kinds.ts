import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Music and sounds beside voices: their kind, under what they may be used, and what of them is repeated. */
export class Kinds1766300000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "recording" ADD COLUMN "kind" text NOT NULL DEFAULT 'voice'`);
    await runner.query(`ALTER TABLE "recording" ADD COLUMN "licence" text NOT NULL DEFAULT ''`);
    await runner.query(`ALTER TABLE "recording" ADD COLUMN "loop" text`);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const column of ['kind', 'licence', 'loop'])
      await runner.query(`ALTER TABLE "recording" DROP COLUMN "${column}"`);
  }
}
