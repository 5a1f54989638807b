import { LIMITABLE_MEASURES, type LimitableMeasure, plainFigure } from '@tonos/core';
import { clock } from './time.ts';

/** A limit's window: "-23 \u2026 -18", "\u2264 -3", "\u2265 1". Lengths as a clock shows them. */
export function limitText({ measure, min, max }: { measure: string; min: number | null; max: number | null }): string {
  const plain = measure === 'durationSeconds' ? clock : plainFigure;
  if (min !== null && max !== null) return `${plain(min)} \u2026 ${plain(max)}`;
  return max !== null ? `\u2264 ${plain(max)}` : `\u2265 ${plain(min!)}`;
}

export const measureOf = (measure: string) => LIMITABLE_MEASURES[measure as LimitableMeasure];
