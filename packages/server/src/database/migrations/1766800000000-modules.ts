import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Processes of one's own. */
export class Modules1766800000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE "module" ("id" text PRIMARY KEY NOT NULL, "sha256" text NOT NULL UNIQUE, "name" text NOT NULL, "manifest" text NOT NULL, "bytes" integer NOT NULL, "fileName" text NOT NULL, "author" text NOT NULL, "createdAt" text NOT NULL, "trashedAt" text)`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE "module"');
  }
}
