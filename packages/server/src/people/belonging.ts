import type { Database } from '../database/database.ts';

/** What belongs to titles, by its table. An item belongs to its run. */
const BELONGING = [
  `SELECT 'recording' AS kind, id FROM recording WHERE titleId IN titles AND id IN ids`,
  `SELECT 'run', id FROM run WHERE titleId IN titles AND id IN ids`,
  `SELECT 'running order', id FROM running_order WHERE titleId IN titles AND id IN ids`,
  `SELECT 'set', id FROM recording_set WHERE titleId IN titles AND id IN ids`,
  `SELECT 'item', run_item.id FROM run_item JOIN run ON run.id = run_item.runId WHERE run.titleId IN titles AND run_item.id IN ids`,
  `SELECT 'sound that went out', id FROM outing WHERE titleId IN titles AND id IN ids`,
  `SELECT 'note', id FROM note WHERE titleId IN titles AND id IN ids`,
];
const QUESTION = `WITH titles AS (SELECT value FROM json_each(?)), ids AS (SELECT value FROM json_each(?)) ${BELONGING.join(' UNION ALL ')} LIMIT 1`;

/** Everything in a call that may be an id. */
function idsIn(named: unknown, into: Set<string> = new Set()): Set<string> {
  if (typeof named === 'string') {
    if (named.length <= 64 && /^[\w-]+$/.test(named)) into.add(named);
  } else if (typeof named === 'object' && named !== null)
    for (const [key, value] of Object.entries(named)) {
      idsIn(key, into);
      idsIn(value, into);
    }
  return into;
}

/**
 * The first thing that a call names and that belongs to one of these titles; null where there is none.
 * @param named parameters, query, body: wherever in them an id stands
 */
export async function firstOf(
  database: Database,
  titleIds: readonly string[],
  named: unknown,
): Promise<{ kind: string; id: string } | null> {
  const ids = idsIn(named);
  if (!ids.size) return null;
  const title = titleIds.find((id) => ids.has(id));
  if (title !== undefined) return { kind: 'title', id: title };
  const lists = [JSON.stringify(titleIds), JSON.stringify([...ids])];
  const [found] = await database.rows<{ kind: string; id: string }>(QUESTION, lists);
  return found ?? null;
}
