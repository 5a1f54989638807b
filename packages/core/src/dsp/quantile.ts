/** The value that a share of all lies under, by nearest rank: of a half the one in the middle. Undefined where there are none. */
export function quantile(values: ArrayLike<number>, share: number): number | undefined {
  const sorted = Float64Array.from(values).sort();
  return sorted[Math.round((sorted.length - 1) * share)];
}

export const median = (values: ArrayLike<number>): number | undefined => quantile(values, 0.5);
