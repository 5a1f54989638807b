import type { EntityManager } from 'typeorm';
import type { RecordingEntity } from '../recordings/recording-entity.ts';

/** The chapters of a title: music and sounds are none. */
export interface Chapters {
  count: number;
  /** The track that a recording is: its place, without the music and the sounds before it. */
  trackOf(recording: Pick<RecordingEntity, 'position'>): number;
}

/** In one look over a title's recordings, which can be thousands. */
const CHAPTERS = `SELECT COUNT(*) FILTER (WHERE "kind" = 'voice' AND "trashedAt" IS NULL) AS "count", json_group_array("position") FILTER (WHERE "kind" IN ('music', 'sound')) AS "others" FROM "recording" WHERE "titleId" = ? AND "superseded" = 0`;

export async function chaptersOf(manager: Pick<EntityManager, 'query'>, titleId: string): Promise<Chapters> {
  const [{ count, others }] = await manager.query<{ count: number; others: string }[]>(CHAPTERS, [titleId]);
  const places = JSON.parse(others) as number[];
  return { count, trackOf: ({ position }) => position - places.filter((place) => place < position).length };
}
