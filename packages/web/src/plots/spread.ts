import { medianOf } from '@tonos/core';

/** How figures lie over a title. */
export interface Spread {
  lowest: number;
  median: number;
  highest: number;
  /** Where figures lie on a ruler, from its left: the middle of a column in pixels, and how many lie there against the fullest column. */
  columns: { x: number; share: number }[];
}

const COLUMN_PX = 2;

/** Undefined where there is nothing to lie anywhere. @param place share of the width for a figure, as rulers have it */
export function spreadOf(
  values: readonly number[],
  place: (value: number) => number,
  widthPx: number,
): Spread | undefined {
  if (!values.length) return undefined;
  const sorted = values.toSorted((a, b) => a - b);
  const counts = new Map<number, number>();
  for (const value of sorted) {
    const column = Math.floor((place(value) * widthPx) / COLUMN_PX);
    counts.set(column, (counts.get(column) ?? 0) + 1);
  }
  const most = Math.max(...counts.values());
  return {
    lowest: sorted[0],
    median: medianOf(sorted),
    highest: sorted[sorted.length - 1],
    columns: [...counts].map(([column, count]) => ({ x: (column + 0.5) * COLUMN_PX, share: count / most })),
  };
}
