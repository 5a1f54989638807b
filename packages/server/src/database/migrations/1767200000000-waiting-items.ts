import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What comes next is found without looking at all that waits: whoever took one of 5,000 sorted 5,000. */
export class WaitingItems1767200000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE INDEX "item_waits" ON "run_item" ("runId", "position") WHERE "status" = 'queued'`);
    await runner.query(
      `CREATE INDEX "recording_waits" ON "recording" ("createdAt", "position") WHERE "status" = 'measuring'`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`DROP INDEX "recording_waits"`);
    await runner.query(`DROP INDEX "item_waits"`);
  }
}
