import { middleOf } from '../../dsp/middle-of.ts';

/** Where clicks stand in a residual: far over its usual size, and far over every other peak nearby. */

export interface ClickLimits {
  /** Over the median size of the residual. */
  overMedian: number;
  /** Over the largest peak nearby that is not the click's own: the pulses of a voice come in rows of equals. */
  overNeighbours: number;
  /** Frames of the longest click. */
  longest: number;
  /** Frames on either side in which neighbours are looked for. */
  near: number;
}

export interface Click {
  from: number;
  to: number;
}

/** Clicks that begin in `from` to `to` of a residual, whose sizes are read `near` frames beyond on either side. */
export function findClicks(sizes: Float64Array, from: number, to: number, limits: ClickLimits): Click[] {
  const median = middleOf(sizes.slice()) + 1e-9;
  const threshold = median * limits.overMedian;
  const clicks: Click[] = [];
  for (let i = from; i < to; i++) {
    if (sizes[i] <= threshold) continue;
    const click = extent(sizes, i, limits.longest, 0.1 * sizes[i] + 3 * median);
    const peak = largest(sizes, click.from, click.to);
    const start = Math.max(0, click.from - limits.near);
    const end = Math.min(sizes.length, click.to + limits.near);
    const neighbour = Math.max(largest(sizes, start, click.from), largest(sizes, click.to, end));
    if (click.to - click.from <= limits.longest && peak > limits.overNeighbours * neighbour) clicks.push(click);
    i = click.to;
  }
  return clicks;
}

/** From the first large value to the last that follows within a millisecond's worth of gaps. */
function extent(sizes: Float64Array, at: number, longest: number, quiet: number): Click {
  const gap = Math.max(4, Math.round(longest / 5));
  let last = at;
  for (let i = at + 1; i < Math.min(sizes.length, at + 2 * longest) && i - last <= gap; i++)
    if (sizes[i] > quiet) last = i;
  let first = at;
  for (let i = at - 1; i >= Math.max(0, at - longest) && first - i <= 3; i--) if (sizes[i] > quiet) first = i;
  return { from: first, to: last + 1 };
}

function largest(sizes: Float64Array, from: number, to: number): number {
  let most = 0;
  for (let i = from; i < to; i++) if (sizes[i] > most) most = sizes[i];
  return most;
}
