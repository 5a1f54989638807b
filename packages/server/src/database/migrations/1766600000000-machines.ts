import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Who works on what; machines that work along, and their tokens. */
export class Machines1766600000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE "job_claim" ("fence" integer PRIMARY KEY AUTOINCREMENT NOT NULL, "kind" text NOT NULL, "subjectId" text NOT NULL,
       "itemIds" text NOT NULL, "titleId" text NOT NULL, "payload" text, "machineId" text, "leasedUntil" text, "claimedAt" text NOT NULL)`,
    );
    await runner.query(`CREATE INDEX "job_claim_subject" ON "job_claim" ("kind", "subjectId")`);
    await runner.query(`CREATE INDEX "job_claim_machine" ON "job_claim" ("machineId")`);
    await runner.query(
      `CREATE TABLE "machine" ("id" text PRIMARY KEY NOT NULL, "name" text NOT NULL, "version" text NOT NULL, "threads" integer NOT NULL,
       "tokenId" text NOT NULL, "draining" boolean NOT NULL, "resting" text, "timesRealTime" real, "cacheBytes" integer NOT NULL,
       "cacheLimitBytes" integer NOT NULL, "left" boolean NOT NULL, "lastHeardAt" text NOT NULL)`,
    );
    await runner.query(
      `CREATE TABLE "worker_token" ("id" text PRIMARY KEY NOT NULL, "name" text NOT NULL, "secretHash" text NOT NULL, "createdAt" text NOT NULL)`,
    );
    await runner.query(`CREATE UNIQUE INDEX "worker_token_secret" ON "worker_token" ("secretHash")`);
    await runner.query(`ALTER TABLE "run_item" ADD COLUMN "machine" text`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "run_item" DROP COLUMN "machine"`);
    for (const name of ['job_claim', 'machine', 'worker_token']) await runner.query(`DROP TABLE "${name}"`);
  }
}
