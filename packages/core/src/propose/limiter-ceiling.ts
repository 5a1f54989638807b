import { isLossy, type TargetFile } from '../target/target-file.ts';

/** What a lossy codec may add to peaks, dB. */
export const OVERSHOOT_DB = 0.5;
const LOSSLESS_ROOM_DB = 0.2;

/** Where a limiter leaves enough room under a limit on peaks, dBTP. */
export const ceilingUnder = (limitDbtp: number, output: TargetFile['output']): number =>
  Math.round((limitDbtp - (isLossy(output) ? OVERSHOOT_DB : LOSSLESS_ROOM_DB)) * 10) / 10;
