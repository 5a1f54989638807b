import type { MigrationInterface, QueryRunner } from 'typeorm';

/** A recording keeps what was done to its time by hand. */
export class Cuts1766000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "recording" ADD COLUMN "cuts" text NOT NULL DEFAULT '[]'`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "recording" DROP COLUMN "cuts"`);
  }
}
