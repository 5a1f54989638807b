import type { MigrationInterface, QueryRunner } from 'typeorm';

const TABLES = ['title', 'chain', 'target', 'preset', 'run'];

/** Everything that people make can go to the trash, and come back. Of a recording that was removed for good, items may still tell. */
export class Trash1765600000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    for (const table of TABLES) await runner.query(`ALTER TABLE "${table}" ADD COLUMN "trashedAt" text`);
    await runner.query(`ALTER TABLE "recording" ADD COLUMN "removedAt" text`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "recording" DROP COLUMN "removedAt"`);
    for (const table of TABLES) await runner.query(`ALTER TABLE "${table}" DROP COLUMN "trashedAt"`);
  }
}
