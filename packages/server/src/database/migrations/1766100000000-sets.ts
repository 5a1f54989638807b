import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Recordings of one session are linked. */
export class Sets1766100000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE "recording_set" ("id" text PRIMARY KEY NOT NULL, "titleId" text NOT NULL, "members" text NOT NULL, "createdAt" text NOT NULL)`,
    );
    await runner.query(`CREATE INDEX "recording_set_title" ON "recording_set" ("titleId")`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`DROP TABLE "recording_set"`);
  }
}
