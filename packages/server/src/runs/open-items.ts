import type { ItemStatus } from '@tonos/contract';
import { type EntityManager, In } from 'typeorm';
import { RunEntity } from './run-entity.ts';

/** How items stand that are still to be made. */
export const OPEN: ItemStatus[] = ['queued', 'working'];

const AN_OPEN_ONE = `SELECT 1 FROM "run_item" WHERE "runId" = ? AND "status" IN ('queued', 'working') LIMIT 1`;

/** The run ends with its last item; a cancelled one stays cancelled. */
export async function finishIfDone(manager: EntityManager, runId: string, now: string): Promise<void> {
  if ((await manager.query<unknown[]>(AN_OPEN_ONE, [runId])).length) return;
  await manager.update(
    RunEntity,
    { id: runId, status: In(['queued', 'working']) },
    { status: 'finished', finishedAt: now },
  );
}
