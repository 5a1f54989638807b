import { monotoneCurve } from './monotone-curve.ts';

/** Gain or level in dB over frequency in Hz. */
export type Curve = (hz: number) => number;

/** A curve through points, monotone between them over the logarithm of frequency; of points at one frequency the last counts. */
export function frequencyCurve(points: readonly (readonly [hz: number, db: number])[]): Curve {
  const sorted = [...new Map(points)].sort(([a], [b]) => a - b);
  const curve = monotoneCurve(
    sorted.map(([hz]) => Math.log(hz)),
    sorted.map(([, db]) => db),
  );
  return (hz) => curve(Math.log(Math.max(hz, 1e-3)));
}
