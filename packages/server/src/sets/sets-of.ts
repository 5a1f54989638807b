import type { RecordingSet } from '@tonos/contract';
import { type EntityManager, In, IsNull } from 'typeorm';
import { RecordingEntity } from '../recordings/recording-entity.ts';
import { RecordingSetEntity } from './set-entity.ts';

type Finds = Pick<EntityManager, 'find'>;

/** The sets of a title, with those members that are there: one of which fewer than two are left is none. */
export async function setsOf(manager: Finds, titleId: string): Promise<RecordingSet[]> {
  const sets = await manager.find(RecordingSetEntity, { where: { titleId }, order: { createdAt: 'ASC' } });
  if (!sets.length) return [];
  const ids = sets.flatMap(({ members }) => members.map(({ recordingId }) => recordingId));
  const there = await manager.find(RecordingEntity, {
    where: { id: In(ids), trashedAt: IsNull(), removedAt: IsNull(), superseded: false },
    select: { id: true },
  });
  const known = new Set(there.map(({ id }) => id));
  return sets
    .map((set) => ({ ...set, members: set.members.filter(({ recordingId }) => known.has(recordingId)) }))
    .filter(({ members }) => members.length > 1);
}

/** Recordings and all that are linked with any of them: these are run together. */
export async function withMates(manager: Finds, titleId: string, recordingIds: readonly string[]): Promise<string[]> {
  const wanted = new Set(recordingIds);
  for (const { members } of await setsOf(manager, titleId)) {
    const ids = members.map(({ recordingId }) => recordingId);
    if (ids.some((id) => wanted.has(id))) for (const id of ids) wanted.add(id);
  }
  return [...wanted];
}
