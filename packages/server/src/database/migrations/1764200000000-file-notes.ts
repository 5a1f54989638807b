import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What files say of themselves is kept with their recordings. */
export class FileNotes1764200000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "recording" ADD COLUMN "tags" text NOT NULL DEFAULT '{}'`);
    await runner.query(`ALTER TABLE "recording" ADD COLUMN "marks" text NOT NULL DEFAULT '[]'`);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const name of ['tags', 'marks']) await runner.query(`ALTER TABLE "recording" DROP COLUMN "${name}"`);
  }
}
