import type { Comparison } from './compare.ts';

/** A line a suite: the ratio is what counts, seconds differ from machine to machine. */
export function report(comparisons: readonly Comparison[]): string {
  return comparisons
    .map(
      ({ name, work, ours, peer, ratio, spread: [low, high] }) =>
        `${name}: ${ratio.toFixed(2)} x the speed of ${peer} (${low.toFixed(2)} to ${high.toFixed(2)}; ${ours}, ${work})`,
    )
    .join('\n');
}
