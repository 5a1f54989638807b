/** The value that a share of all lies under. */
export function quantile(values: Float64Array, share: number): number {
  const sorted = values.slice().sort();
  return sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))];
}
