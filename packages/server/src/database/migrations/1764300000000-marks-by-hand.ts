import { randomUUID } from 'node:crypto';
import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What people mark in a recording; marks get ids, so that they can be changed. */
export class MarksByHand1764300000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    const none = JSON.stringify({ use: [], never: [] });
    await runner.query(`ALTER TABLE "recording" ADD COLUMN "roomToneChoice" text NOT NULL DEFAULT '${none}'`);
    await runner.query(`ALTER TABLE "recording" ADD COLUMN "boxes" text NOT NULL DEFAULT '[]'`);
    const rows: { id: string; marks: string }[] = await runner.query(
      `SELECT "id", "marks" FROM "recording" WHERE "marks" <> '[]'`,
    );
    for (const { id, marks } of rows) {
      const named = (JSON.parse(marks) as object[]).map((mark) => ({ id: randomUUID(), ...mark }));
      await runner.query(`UPDATE "recording" SET "marks" = ? WHERE "id" = ?`, [JSON.stringify(named), id]);
    }
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const name of ['roomToneChoice', 'boxes']) await runner.query(`ALTER TABLE "recording" DROP COLUMN "${name}"`);
  }
}
