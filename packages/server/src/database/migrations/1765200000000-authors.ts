import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Who kept a revision, as they call themselves. */
export class Authors1765200000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "chain_revision" ADD COLUMN "author" text NOT NULL DEFAULT ''`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "chain_revision" DROP COLUMN "author"`);
  }
}
