/** The part of a recording that a plate shows. */
export interface TimeRange {
  fromSeconds: number;
  toSeconds: number;
}

const STEPS = [
  0.00001, 0.00002, 0.00005, 0.0001, 0.0002, 0.0005, 0.001, 0.002, 0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10,
  15, 30, 60, 120, 300, 600, 900, 1800, 3600, 7200,
];
const LEAST_DISTANCE = 90;

/** Round moments at least 90 pixels apart, with as many decimals as their distance needs. */
export function timeTicks(
  { fromSeconds, toSeconds }: TimeRange,
  width: number,
): { seconds: number; decimals: number }[] {
  const least = ((toSeconds - fromSeconds) * LEAST_DISTANCE) / width;
  const step = STEPS.find((one) => one >= least) ?? STEPS.at(-1)!;
  const decimals = Math.max(0, Math.ceil(-Math.log10(step) - 1e-9));
  const first = Math.ceil(fromSeconds / step - 1e-9);
  const last = Math.floor(toSeconds / step + 1e-9);
  return Array.from({ length: Math.max(0, last - first + 1) }, (_, i) => ({ seconds: (first + i) * step, decimals }));
}

export const secondsAt = ({ fromSeconds, toSeconds }: TimeRange, share: number): number =>
  fromSeconds + share * (toSeconds - fromSeconds);

export const shareAt = ({ fromSeconds, toSeconds }: TimeRange, seconds: number): number =>
  (seconds - fromSeconds) / (toSeconds - fromSeconds);

/** Closer by `factor` around a moment that stays where it is, inside the recording, down to about 40 samples. */
export function zoomed(range: TimeRange, around: number, factor: number, totalSeconds: number): TimeRange {
  const length = Math.min(totalSeconds, Math.max(0.001, (range.toSeconds - range.fromSeconds) * factor));
  const from = around - shareAt(range, around) * length;
  return moved({ fromSeconds: from, toSeconds: from + length }, 0, totalSeconds);
}

/** Shifted by some seconds, as far as the recording reaches. */
export function moved({ fromSeconds, toSeconds }: TimeRange, by: number, totalSeconds: number): TimeRange {
  const length = toSeconds - fromSeconds;
  const from = Math.max(0, Math.min(totalSeconds - length, fromSeconds + by));
  return { fromSeconds: from, toSeconds: from + length };
}
