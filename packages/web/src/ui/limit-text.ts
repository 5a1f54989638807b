import { LIMITABLE_MEASURES, type LimitableMeasure, plainFigure } from '@tonos/core';

/** A limit's window: "-23 \u2026 -18", "\u2264 -3", "\u2265 1". */
export function limitText({ min, max }: { min: number | null; max: number | null }): string {
  if (min !== null && max !== null) return `${plainFigure(min)} \u2026 ${plainFigure(max)}`;
  return max !== null ? `\u2264 ${plainFigure(max)}` : `\u2265 ${plainFigure(min!)}`;
}

export const measureOf = (measure: string) => LIMITABLE_MEASURES[measure as LimitableMeasure];
