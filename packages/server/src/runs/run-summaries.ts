import type { ItemStatus, RunSummary } from '@tonos/contract';
import type { Database } from '../database/database.ts';
import type { RunEntity } from './run-entity.ts';

/** Of a run, how many of its items stand how; a run without items has one row that counts none. */
interface CountRow {
  runId: string;
  titleName: string;
  chainName: string;
  targetName: string;
  status: ItemStatus | null;
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

const COUNTED = `
  WITH counted AS (
    SELECT "runId", status, COUNT(*) AS count, COUNT(accepted) AS accepted,
      SUM(CASE WHEN seconds IS NOT NULL THEN "soundSeconds" END) AS "soundSeconds", SUM(seconds) AS "workSeconds"
    FROM run_item WHERE "runId" IN (SELECT value FROM json_each(?1)) GROUP BY "runId", status
  )
  SELECT run.id AS "runId", title.name AS "titleName", coalesce(running_order.name, chain.name) AS "chainName",
    target.name AS "targetName", counted.status, count, accepted, "soundSeconds", "workSeconds"
  FROM run
  JOIN title ON title.id = run."titleId"
  JOIN target ON target.id = run."targetId"
  LEFT JOIN chain ON chain.id = run."chainId"
  LEFT JOIN running_order ON running_order.id = run."orderId"
  LEFT JOIN counted ON counted."runId" = run.id
  WHERE run.id IN (SELECT value FROM json_each(?1))`;

/** How runs stand, counted at once for all. */
export async function runSummaries(database: Database, runs: readonly RunEntity[]): Promise<RunSummary[]> {
  const rows = await database.many<CountRow>(COUNTED, [JSON.stringify(runs.map(({ id }) => id))]);
  const namesOf = new Map(
    rows.map(({ runId, titleName, chainName, targetName }) => [runId, { titleName, chainName, targetName }]),
  );
  const countedOf = new Map(runs.map(({ id }) => [id, nothingCounted()]));
  for (const { runId, status, count, accepted, soundSeconds, workSeconds } of rows) {
    if (!status) continue;
    const counted = countedOf.get(runId)!;
    counted.counts[status] = count;
    if (status === 'off-target') counted.accepted = accepted;
    if (status !== 'within' && status !== 'off-target') continue;
    counted.soundSeconds += soundSeconds ?? 0;
    counted.workSeconds += workSeconds ?? 0;
  }
  return runs.map(({ priority: _, trashedAt: __, order: ___, ...run }) => ({
    ...run,
    chainId: run.chainId ?? '',
    ...namesOf.get(run.id)!,
    ...countedOf.get(run.id)!,
  }));
}
