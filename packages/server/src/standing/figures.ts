import { type DeliveredFigures, type Standing, TITLE_MEASURES, type TitleMeasure } from '@tonos/contract';
import type { Database } from '../database/database.ts';

/** So many items are read in one go: other questions are answered between. */
const PAGE = 400;

type Row = { itemId: string } & Record<TitleMeasure, number | null>;

const COLUMNS = TITLE_MEASURES.map((measure) => `json_extract("after", '$.${measure}') AS "${measure}"`).join(', ');

/** The figures of the newest delivered file of each recording; recordings without one are left out. */
export async function deliveredFigures(
  database: Database,
  standings: readonly Standing[],
): Promise<DeliveredFigures[]> {
  const all: DeliveredFigures[] = [];
  const itemOf = new Map(standings.flatMap((one) => (one.itemId ? [[one.itemId, one] as const] : [])));
  const ids = [...itemOf.keys()];
  for (let from = 0; from < ids.length; from += PAGE) {
    const page = ids.slice(from, from + PAGE);
    const rows = await database.many<Row>(
      `SELECT id AS "itemId", ${COLUMNS} FROM run_item WHERE "after" IS NOT NULL AND id IN (${page.map(() => '?')})`,
      page,
    );
    for (const { itemId, ...delivered } of rows) {
      const { recordingId, runId } = itemOf.get(itemId)!;
      all.push({ recordingId, runId: runId!, itemId, delivered });
    }
  }
  // as the title has them
  const placeOf = new Map(standings.map(({ recordingId }, place) => [recordingId, place]));
  return all.sort((a, b) => placeOf.get(a.recordingId)! - placeOf.get(b.recordingId)!);
}
