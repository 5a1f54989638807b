/**
 * Soft-knee gain computer: level in dBFS -> gain reduction in dB (>= 0). The knee is quadratic in dB.
 * Giannoulis, Massberg, Reiss, "Digital Dynamic Range Compressor Design", JAES 60(6), 2012, eq. 4.
 */
export function gainReductionDb(levelDb: number, thresholdDb: number, ratio: number, kneeDb: number): number {
  const over = levelDb - thresholdDb;
  const slope = 1 - 1 / ratio;
  if (2 * over <= -kneeDb) return 0;
  if (2 * over < kneeDb) return (slope * (over + kneeDb / 2) ** 2) / (2 * kneeDb);
  return slope * over;
}
