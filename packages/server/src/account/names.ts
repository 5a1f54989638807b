import type { Database } from '../database/database.ts';

interface Named {
  name: string;
  titleId: string | null;
}

const QUESTIONS = {
  title: 'SELECT name, id AS titleId FROM title WHERE id = ?',
  recording: `SELECT coalesce(nullif(givenName, ''), name) AS name, titleId FROM recording WHERE id = ?`,
  run: `SELECT substr(run.createdAt, 1, 16) || ' for ' || target.name AS name, run.titleId FROM run JOIN target ON target.id = run.targetId WHERE run.id = ?`,
  item: `SELECT coalesce(nullif(recording.givenName, ''), recording.name) AS name, recording.titleId FROM run_item JOIN recording ON recording.id = run_item.recordingId WHERE run_item.id = ?`,
  set: `SELECT '' AS name, titleId FROM recording_set WHERE id = ?`,
  order: 'SELECT name, titleId FROM running_order WHERE id = ?',
  chain: 'SELECT name, NULL AS titleId FROM chain WHERE id = ?',
  target: 'SELECT name, NULL AS titleId FROM target WHERE id = ?',
  preset: 'SELECT name, NULL AS titleId FROM preset WHERE id = ?',
  outing: 'SELECT fileName AS name, titleId FROM outing WHERE id = ?',
  module: 'SELECT name, NULL AS titleId FROM module WHERE id = ?',
  machine: 'SELECT name, NULL AS titleId FROM machine WHERE id = ?',
  person: 'SELECT name, NULL AS titleId FROM person WHERE id = ?',
} as const;

export type Thing = keyof typeof QUESTIONS;

/** How things are called, and which title they belong to. What is not there is called nothing. */
export class Names {
  constructor(private readonly database: Database) {}

  async of(thing: Thing, id: string): Promise<Named> {
    const [found] = await this.database.rows<Named>(QUESTIONS[thing], [id]);
    return found ?? { name: '', titleId: null };
  }
}
