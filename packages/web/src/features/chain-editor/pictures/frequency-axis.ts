/** The axis that every picture over frequency shares. */
export const LOW_HZ = 20;
export const HIGH_HZ = 20000;
export const HERTZ_LINES = [50, 100, 200, 500, 1000, 2000, 5000, 10000];

const SPAN = Math.log(HIGH_HZ / LOW_HZ);

/** Share of the axis, 0 to 1. */
export const shareOfHertz = (hz: number): number => Math.log(hz / LOW_HZ) / SPAN;

/** In steps that a hand can want: three figures. */
export function hertzAtShare(share: number): number {
  const hz = LOW_HZ * Math.exp(Math.min(1, Math.max(0, share)) * SPAN);
  const unit = 10 ** (Math.floor(Math.log10(hz)) - 2);
  return Math.round(Math.round(hz / unit) * unit * 10) / 10;
}

export const hertzText = (hz: number): string => (hz >= 1000 ? `${hz / 1000}k` : String(hz));
