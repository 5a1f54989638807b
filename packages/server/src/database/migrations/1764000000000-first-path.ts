import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Titles, recordings, chains with revisions, targets, runs with items. */
export class FirstPath1764000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    for (const statement of TABLES) await runner.query(statement);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of ['run_item', 'run', 'target', 'chain_revision', 'chain', 'recording', 'title']) {
      await runner.query(`DROP TABLE "${table}"`);
    }
  }
}

const TABLES = [
  `CREATE TABLE "title" (
    "id" text PRIMARY KEY NOT NULL, "name" text NOT NULL, "kind" text NOT NULL CHECK ("kind" IN ('podcast', 'audiobook')),
    "chainId" text REFERENCES "chain" ("id"), "targetId" text REFERENCES "target" ("id"), "createdAt" text NOT NULL)`,
  `CREATE TABLE "recording" (
    "id" text PRIMARY KEY NOT NULL, "titleId" text NOT NULL REFERENCES "title" ("id"), "name" text NOT NULL,
    "position" integer NOT NULL, "status" text NOT NULL CHECK ("status" IN ('measuring', 'ready', 'unreadable')),
    "sha256" text NOT NULL, "sizeBytes" integer NOT NULL, "measurement" text, "overview" text, "error" text, "createdAt" text NOT NULL)`,
  `CREATE INDEX "recording_of_title" ON "recording" ("titleId", "position")`,
  `CREATE INDEX "recording_by_status" ON "recording" ("status")`,
  `CREATE TABLE "chain" (
    "id" text PRIMARY KEY NOT NULL, "name" text NOT NULL, "revision" integer NOT NULL, "draft" text,
    "createdAt" text NOT NULL, "changedAt" text NOT NULL)`,
  `CREATE TABLE "chain_revision" (
    "chainId" text NOT NULL REFERENCES "chain" ("id"), "revision" integer NOT NULL, "file" text NOT NULL, "note" text NOT NULL,
    "createdAt" text NOT NULL, PRIMARY KEY ("chainId", "revision"))`,
  `CREATE TABLE "target" (
    "id" text PRIMARY KEY NOT NULL, "name" text NOT NULL, "shipped" boolean NOT NULL, "file" text NOT NULL, "createdAt" text NOT NULL)`,
  `CREATE TABLE "run" (
    "id" text PRIMARY KEY NOT NULL, "titleId" text NOT NULL REFERENCES "title" ("id"), "chainId" text NOT NULL, "revision" integer NOT NULL,
    "targetId" text NOT NULL REFERENCES "target" ("id"), "status" text NOT NULL CHECK ("status" IN ('queued', 'working', 'finished', 'cancelled')),
    "createdAt" text NOT NULL, "startedAt" text, "finishedAt" text,
    FOREIGN KEY ("chainId", "revision") REFERENCES "chain_revision" ("chainId", "revision"))`,
  `CREATE TABLE "run_item" (
    "id" text PRIMARY KEY NOT NULL, "runId" text NOT NULL REFERENCES "run" ("id"), "recordingId" text NOT NULL REFERENCES "recording" ("id"),
    "position" integer NOT NULL,
    "status" text NOT NULL CHECK ("status" IN ('queued', 'working', 'within', 'off-target', 'failed', 'cancelled')),
    "lease" text, "before" text, "after" text, "limits" text, "findings" text, "overview" text, "error" text,
    "outputName" text, "outputSha256" text, "outputBytes" integer, "seconds" float)`,
  `CREATE INDEX "item_of_run" ON "run_item" ("runId", "position")`,
  `CREATE INDEX "item_by_status" ON "run_item" ("status")`,
];
