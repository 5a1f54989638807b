import { scaleLinear } from 'd3-scale';

/** Lengths are ruled in what clocks count. */
const SECONDS = [1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 900, 1800, 3600, 7200, 18000, 36000];

/** Round values that hold all given ones, lowest first, about as many as wished. Lengths begin at nothing. */
export function valueTicks(values: readonly number[], inTime: boolean, wished = 7): number[] {
  let low = Math.min(...values);
  let high = Math.max(...values);
  if (!values.length) [low, high] = [0, 1];
  if (inTime) low = 0;
  if (high - low < 1) [low, high] = [low - 0.5, high + 0.5];
  if (!inTime) {
    // it may take half as many again, and one more on either side
    const about = (wished + 1) / 2;
    return scaleLinear([low, high], [0, 1]).nice(about).ticks(about);
  }
  const rough = (high - low) / (wished - 1);
  const step = SECONDS.find((seconds) => seconds >= rough) ?? Math.ceil(rough / 36000) * 36000;
  const [from, to] = [Math.floor(low / step), Math.ceil(high / step)];
  return Array.from({ length: to - from + 1 }, (_, i) => (from + i) * step);
}
