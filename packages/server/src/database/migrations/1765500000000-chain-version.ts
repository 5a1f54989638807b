import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Every change of a chain's draft or revision counts, so that who writes can say what they saw. */
export class ChainVersion1765500000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "chain" ADD COLUMN "version" integer NOT NULL DEFAULT 1`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "chain" DROP COLUMN "version"`);
  }
}
