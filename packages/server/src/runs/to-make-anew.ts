import { type EntityManager, In, IsNull } from 'typeorm';
import { HttpProblem } from '../http/problems.ts';
import { RecordingEntity } from '../recordings/recording-entity.ts';
import { withMates } from '../sets/sets-of.ts';
import { OPEN } from './open-items.ts';
import { RunEntity, type RunItemEntity } from './run-entity.ts';

/**
 * Those of some items that can be made anew, with those that can only be made together with them.
 * @param all items of the run that may be made anew with them
 * @throws HttpProblem 409 where nothing is left of what they were made from
 */
export const toMakeAnew = async (
  manager: EntityManager,
  wanted: readonly RunItemEntity[],
  all: readonly RunItemEntity[],
): Promise<RunItemEntity[]> => withMateItems(manager, await withSource(manager, wanted), all);

/** With the items of those that are linked with their recordings: these can only be made together. */
async function withMateItems(
  manager: EntityManager,
  chosen: readonly RunItemEntity[],
  all: readonly RunItemEntity[],
): Promise<RunItemEntity[]> {
  if (!chosen.length) return [];
  const { titleId } = await manager.findOneByOrFail(RunEntity, { id: chosen[0].runId });
  const recordingIds = await withMates(
    manager,
    titleId,
    chosen.map(({ recordingId }) => recordingId),
  );
  const mates = all.filter(({ recordingId, status }) => recordingIds.includes(recordingId) && !OPEN.includes(status));
  return [...new Map([...chosen, ...mates].map((item) => [item.id, item])).values()];
}

/** Those whose recording was not removed for good. @throws HttpProblem 409 where none is left */
async function withSource(manager: EntityManager, items: readonly RunItemEntity[]): Promise<RunItemEntity[]> {
  const ids = In(items.map(({ recordingId }) => recordingId));
  const there = await manager.find(RecordingEntity, { where: { id: ids, removedAt: IsNull() }, select: { id: true } });
  const left = items.filter(({ recordingId }) => there.some(({ id }) => id === recordingId));
  if (items.length && !left.length)
    throw new HttpProblem(
      409,
      'source-removed',
      'What these were made from was removed for good: add the recording again, and start a run.',
    );
  return left;
}
