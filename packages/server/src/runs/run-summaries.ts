import type { ItemStatus, RunSummary } from '@tonos/contract';
import { In } from 'typeorm';
import { ChainEntity } from '../chains/chain-entity.ts';
import type { Database } from '../database/database.ts';
import { OrderEntity } from '../orders/order-entity.ts';
import { TargetEntity } from '../targets/target-entity.ts';
import { TitleEntity } from '../titles/title-entity.ts';
import { type RunEntity, RunItemEntity } from './run-entity.ts';

type Named = typeof TitleEntity | typeof ChainEntity | typeof OrderEntity | typeof TargetEntity;

interface CountRow {
  runId: string;
  status: ItemStatus;
  count: number;
  accepted: number;
  soundSeconds: number | null;
  workSeconds: number | null;
}

type Counted = Pick<RunSummary, 'counts' | 'accepted' | 'soundSeconds' | 'workSeconds'>;

const nothingCounted = (): Counted => ({
  counts: { queued: 0, working: 0, within: 0, 'off-target': 0, failed: 0, cancelled: 0 },
  accepted: 0,
  soundSeconds: 0,
  workSeconds: 0,
});

/** How runs stand, counted at once for all. */
export async function runSummaries(database: Database, runs: readonly RunEntity[]): Promise<RunSummary[]> {
  const namesOf = async (entity: Named, ids: string[]) => {
    const rows = await database
      .of<{ id: string; name: string }>(entity)
      .find({ where: { id: In([...new Set(ids)]) }, select: { id: true, name: true } });
    return new Map(rows.map(({ id, name }) => [id, name]));
  };
  const titles = await namesOf(
    TitleEntity,
    runs.map(({ titleId }) => titleId),
  );
  const chains = await namesOf(
    ChainEntity,
    runs.flatMap(({ chainId }) => (chainId ? [chainId] : [])),
  );
  const orders = await namesOf(
    OrderEntity,
    runs.flatMap(({ orderId }) => (orderId ? [orderId] : [])),
  );
  const targets = await namesOf(
    TargetEntity,
    runs.map(({ targetId }) => targetId),
  );
  const query = database
    .of(RunItemEntity)
    .createQueryBuilder('item')
    .select('item.runId', 'runId')
    .addSelect('item.status', 'status')
    .addSelect('COUNT(*)', 'count')
    .addSelect('COUNT(item.accepted)', 'accepted')
    .addSelect('SUM(CASE WHEN item.seconds IS NOT NULL THEN soundSeconds END)', 'soundSeconds')
    .addSelect('SUM(item.seconds)', 'workSeconds')
    .where({ runId: In(runs.map(({ id }) => id)) })
    .groupBy('item.runId')
    .addGroupBy('item.status');
  const rows = await database.manyOf<CountRow>(query);
  const countedOf = new Map(runs.map(({ id }) => [id, nothingCounted()]));
  for (const { runId, status, count, accepted, soundSeconds, workSeconds } of rows) {
    const counted = countedOf.get(runId)!;
    counted.counts[status] = count;
    if (status === 'off-target') counted.accepted = accepted;
    if (status !== 'within' && status !== 'off-target') continue;
    counted.soundSeconds += soundSeconds ?? 0;
    counted.workSeconds += workSeconds ?? 0;
  }
  return runs.map(({ priority: _, trashedAt: __, order: ___, ...run }) => ({
    ...run,
    titleName: titles.get(run.titleId)!,
    chainName: run.orderId ? orders.get(run.orderId)! : chains.get(run.chainId!)!,
    chainId: run.chainId ?? '',
    targetName: targets.get(run.targetId)!,
    ...countedOf.get(run.id)!,
  }));
}
