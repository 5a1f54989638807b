import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Lettered places for chains, presets and steps. */
export class ThumbIndex1764900000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE "index_place" ("letter" text PRIMARY KEY NOT NULL, "name" text NOT NULL, "content" text NOT NULL, "changedAt" text NOT NULL)`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE "index_place"');
  }
}
