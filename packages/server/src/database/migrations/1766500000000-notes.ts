import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Notes of people on chains, steps, recordings and items, and whom they name. */
export class Notes1766500000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE "note" ("id" text PRIMARY KEY NOT NULL, "kind" text NOT NULL, "aboutId" text NOT NULL, "stepId" text, "titleId" text,
       "text" text NOT NULL, "personId" text NOT NULL, "at" text NOT NULL, "mentions" text NOT NULL, "doneBy" text, "doneAt" text)`,
    );
    await runner.query(`CREATE INDEX "note_about" ON "note" ("kind", "aboutId")`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`DROP TABLE "note"`);
  }
}
