import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Recordings are counted, and the few that wait for somebody found, from indices: rows are long, since they carry measurements. */
export class ManyRecordings1767000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `ALTER TABLE "recording" ADD COLUMN "lengthSeconds" real GENERATED ALWAYS AS (json_extract("measurement", '$.durationSeconds')) VIRTUAL`,
    );
    await runner.query(
      `ALTER TABLE "recording" ADD COLUMN "isWarned" integer GENERATED ALWAYS AS ("status" = 'unreadable' OR json_array_length("measurement", '$.warnings') > 0) VIRTUAL`,
    );
    await runner.query(
      `CREATE INDEX "recording_counts" ON "recording" ("titleId", "kind", "superseded", "trashedAt", "lengthSeconds", "isWarned")`,
    );
    await runner.query(
      `CREATE INDEX "recording_open_notes" ON "recording" ("titleId", "position") WHERE instr("marks", '"state":"open"') > 0`,
    );
    // whether what a programme was put together from is still there
    await runner.query(`CREATE INDEX "recording_source" ON "recording" ("sha256")`);
    await runner.query(`CREATE INDEX "item_output" ON "run_item" ("outputSha256")`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`DROP INDEX "item_output"`);
    await runner.query(`DROP INDEX "recording_source"`);
    await runner.query(`DROP INDEX "recording_open_notes"`);
    await runner.query(`DROP INDEX "recording_counts"`);
    await runner.query(`ALTER TABLE "recording" DROP COLUMN "isWarned"`);
    await runner.query(`ALTER TABLE "recording" DROP COLUMN "lengthSeconds"`);
  }
}
