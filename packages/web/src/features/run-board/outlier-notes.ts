import type { RunItem } from '@tonos/contract';
import { departures, differenceUnit, figure, LIMITABLE_MEASURES, type LimitableMeasure } from '@tonos/core';

/** Differences under these are heard by nobody. */
const LEAST: readonly [LimitableMeasure, number][] = [
  ['integratedLufs', 1],
  ['noiseFloorDbfs', 4],
  ['loudnessRangeLu', 3],
  ['crestDb', 3],
];

/** By item id: in what it departs from the rest of what was delivered, such as a chapter recorded on another day. */
export function outlierNotes(items: readonly RunItem[]): Map<string, string[]> {
  const notes = new Map<string, string[]>();
  for (const [measure, least] of LEAST) {
    const { title, unit, decimals } = LIMITABLE_MEASURES[measure];
    for (const { index, value, median } of departures(
      items.map(({ after }) => after?.[measure] ?? null),
      least,
    )) {
      const by = `${figure(Math.abs(value - median), decimals)} ${differenceUnit(unit)}`;
      const text = `${title} ${by} ${value > median ? 'over' : 'under'} the median of the rest`;
      notes.set(items[index].id, [...(notes.get(items[index].id) ?? []), text]);
    }
  }
  return notes;
}
