import type { MigrationInterface, QueryRunner } from 'typeorm';

/** A watched folder can hold sessions: what came together waits until it is linked, or says why it is not. */
export class Sessions1766700000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "arrival" ADD COLUMN "session" text`);
    await runner.query(`ALTER TABLE "arrival" ADD COLUMN "apart" text`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "arrival" DROP COLUMN "apart"`);
    await runner.query(`ALTER TABLE "arrival" DROP COLUMN "session"`);
  }
}
