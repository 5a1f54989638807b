import type { MigrationInterface, QueryRunner } from 'typeorm';

const COLUMNS = [
  `"speaker" text NOT NULL DEFAULT ''`,
  `"microphone" text NOT NULL DEFAULT ''`,
  `"room" text NOT NULL DEFAULT ''`,
  '"trashedAt" text',
];

/** Recordings have labels, and a trash. */
export class LabelsAndTrash1764100000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    for (const column of COLUMNS) await runner.query(`ALTER TABLE "recording" ADD COLUMN ${column}`);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const name of ['speaker', 'microphone', 'room', 'trashedAt'])
      await runner.query(`ALTER TABLE "recording" DROP COLUMN "${name}"`);
  }
}
