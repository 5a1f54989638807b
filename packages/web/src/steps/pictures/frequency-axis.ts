import { scaleLog } from 'd3-scale';

/** The axis that every picture over frequency shares. */
const LOW_HZ = 20;
const HIGH_HZ = 20000;

const axis = scaleLog([LOW_HZ, HIGH_HZ], [0, 1]);

/** Share of the axis, 0 to 1. */
export const shareOfHertz = (hz: number): number => axis(hz);

export const exactHertzAtShare = (share: number): number => axis.invert(share);

/** In steps that a hand can want: three figures. */
export function hertzAtShare(share: number): number {
  const hz = exactHertzAtShare(Math.min(1, Math.max(0, share)));
  const unit = 10 ** (Math.floor(Math.log10(hz)) - 2);
  return Math.round(Math.round(hz / unit) * unit * 10) / 10;
}
