import type { MigrationInterface, QueryRunner } from 'typeorm';

/** The picture that a title's deliveries carry. */
export class Cover1765400000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "title" ADD COLUMN "cover" text`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "title" DROP COLUMN "cover"`);
  }
}
