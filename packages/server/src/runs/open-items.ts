import type { ItemStatus } from '@tonos/contract';
import { type EntityManager, In } from 'typeorm';
import { RunEntity, RunItemEntity } from './run-entity.ts';

/** How items stand that are still to be made. */
export const OPEN: ItemStatus[] = ['queued', 'working'];

/** The run ends with its last item; a cancelled one stays cancelled. */
export async function finishIfDone(manager: EntityManager, runId: string, now: string): Promise<void> {
  if (await manager.existsBy(RunItemEntity, { runId, status: In(OPEN) })) return;
  await manager.update(
    RunEntity,
    { id: runId, status: In(['queued', 'working']) },
    { status: 'finished', finishedAt: now },
  );
}
