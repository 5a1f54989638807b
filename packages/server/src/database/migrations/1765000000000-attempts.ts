import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Earlier outcomes of an item stay when it is rendered again. */
export class Attempts1765000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE "run_attempt" ("id" text PRIMARY KEY NOT NULL, "itemId" text NOT NULL REFERENCES "run_item" ("id"),
        "keptAt" text NOT NULL, "outputSha256" text NOT NULL, "outcome" text NOT NULL)`,
    );
    await runner.query(`CREATE INDEX "run_attempt_item" ON "run_attempt" ("itemId")`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE "run_attempt"');
  }
}
