import type { RunItem } from '@tonos/contract';
import { departures, differenceUnit, figure, LEAST_DIFFERENCES, LIMITABLE_MEASURES } from '@tonos/core';

/** In what chapters that were recorded on another day differ, once their levels are one. */
const JUDGED = ['integratedLufs', 'noiseFloorDbfs', 'loudnessRangeLu', 'crestDb'] as const;

/** By item id: in what it departs from the rest of what was delivered, such as a chapter recorded on another day. */
export function outlierNotes(items: readonly RunItem[]): Map<string, string[]> {
  const notes = new Map<string, string[]>();
  for (const measure of JUDGED) {
    const { title, unit, decimals } = LIMITABLE_MEASURES[measure];
    for (const { index, value, median } of departures(
      items.map(({ after }) => after?.[measure] ?? null),
      LEAST_DIFFERENCES[measure],
    )) {
      const by = `${figure(Math.abs(value - median), decimals)} ${differenceUnit(unit)}`;
      const text = `${title} ${by} ${value > median ? 'over' : 'under'} the median of the rest`;
      notes.set(items[index].id, [...(notes.get(items[index].id) ?? []), text]);
    }
  }
  return notes;
}
