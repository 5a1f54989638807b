export interface RulerScale {
  /** Share of the ruler's width, kept inside it. */
  place(value: number): number;
  windowStart: number;
  windowEnd: number;
}

/** How far the ruler reaches beyond its window, in the measure's unit, at least. */
const LEAST_REACH: Readonly<Record<string, number>> = { s: 2, '': 4 };
const USUAL_REACH = 6;
const EDGE = 0.03;

/**
 * A ruler for one limit, the same in every row: it holds the window and all figures, but gives the window at least a
 * quarter of its width.
 */
export function rulerScale(
  min: number | null,
  max: number | null,
  values: readonly number[],
  unit: string,
): RulerScale {
  const reach = LEAST_REACH[unit] ?? USUAL_REACH;
  const start = min ?? Math.min(max! - 3 * reach, ...values);
  const end = max ?? Math.max(min! + 3 * reach, ...values);
  const span = Math.max(end - start, 1e-6);
  let low = Math.min(start - (min === null ? 0 : reach), ...values);
  let high = Math.max(end + (max === null ? 0 : reach), ...values);
  low = Math.max(low, start - 2 * span - reach);
  high = Math.min(high, end + 2 * span + reach);
  // rows show rulers, and wait for no program of charts
  const place = (value: number) => EDGE + (1 - 2 * EDGE) * clamp((value - low) / (high - low));
  return { place, windowStart: min === null ? 0 : place(min), windowEnd: max === null ? 1 : place(max) };
}

const clamp = (share: number): number => Math.min(1, Math.max(0, share));
