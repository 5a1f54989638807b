import type { DeliveredFigures, Recording, TitleMeasure } from '@tonos/contract';
import { departures, LEAST_DIFFERENCES, type Limit } from '@tonos/core';

/** One recording in a title's chart: as it came in, and as it was delivered last. */
export interface ChapterFigure {
  /** The recording's. */
  id: string;
  name: string;
  /** In the title, from 1. */
  position: number;
  source: number | null;
  delivered: number | null;
  /** By how much it stands out, and from what; null where it does not. */
  outlier: { by: number; from: 'window' | 'median' } | null;
}

/**
 * Each recording's figure. What was delivered is held against the target's window, what was not (and every figure where there is no
 * window) against the other recordings.
 */
export function chapterFigures(
  recordings: readonly Pick<Recording, 'id' | 'name' | 'givenName' | 'position' | 'measurement'>[],
  delivered: readonly DeliveredFigures[],
  measure: TitleMeasure,
  limit: Pick<Limit, 'min' | 'max'> | undefined,
): ChapterFigure[] {
  const deliveredOf = new Map(delivered.map((one) => [one.recordingId, one.delivered[measure]]));
  const rows = recordings.map(({ id, name, givenName, position, measurement }) => ({
    id,
    name: givenName || name,
    position,
    source: measurement?.[measure] ?? null,
    delivered: deliveredOf.get(id) ?? null,
  }));
  const far = departures(
    rows.map((row) => row.delivered ?? row.source),
    LEAST_DIFFERENCES[measure],
  );
  const departureOf = new Map(far.map(({ index, value, median }) => [index, value - median]));
  return rows.map((row, i) => {
    if (row.delivered !== null && limit) return { ...row, outlier: outside(row.delivered, limit) };
    const by = departureOf.get(i);
    return { ...row, outlier: by === undefined ? null : { by, from: 'median' } };
  });
}

function outside(value: number, { min, max }: Pick<Limit, 'min' | 'max'>): ChapterFigure['outlier'] {
  if (typeof max === 'number' && value > max) return { by: value - max, from: 'window' };
  if (typeof min === 'number' && value < min) return { by: value - min, from: 'window' };
  return null;
}
