import { powerToDb } from '../signal/decibels.ts';

export const powerToLufs = (power: number): number => -0.691 + powerToDb(power);

/** LUFS under which nothing counts: ITU-R BS.1770-5, EBU Tech 3342. */
const ABSOLUTE_GATE_LUFS = -70;
const ABSOLUTE_GATE = 10 ** ((ABSOLUTE_GATE_LUFS + 0.691) / 10);
const CLASSES_PER_LU = 20;
/** Up to +30 LUFS; what is louder still counts as that. */
const CLASSES = 100 * CLASSES_PER_LU;

/**
 * Powers of blocks over the absolute gate, by loudness in classes of 0.05 LU, each with its sum, so that means are those of the
 * powers themselves. The same size for any length; histograms of two stretches merge into that of both.
 */
export class LoudnessHistogram {
  private readonly counts = new Uint32Array(CLASSES);
  private readonly sums = new Float64Array(CLASSES);

  add(power: number): void {
    if (!(power > ABSOLUTE_GATE)) return;
    const at = Math.floor((powerToLufs(power) - ABSOLUTE_GATE_LUFS) * CLASSES_PER_LU);
    const place = Math.max(0, Math.min(CLASSES - 1, at));
    this.counts[place]++;
    this.sums[place] += power;
  }

  merge({ counts, sums }: LoudnessHistogram): void {
    for (let at = 0; at < CLASSES; at++) {
      this.counts[at] += counts[at];
      this.sums[at] += sums[at];
    }
  }

  /** Programme loudness: the mean of what lies over -10 LU below the mean. -Infinity where there is none. */
  gatedLufs(): number {
    return powerToLufs(this.over(0.1 * this.over(0).mean).mean);
  }

  /** EBU Tech 3342: 10th to 95th percentile over -20 LU below the mean; null where there is nothing. */
  rangeLu(): number | null {
    const { first, count } = this.over(0.01 * this.over(0).mean);
    if (!count) return null;
    return powerToDb(this.atRank(first, 0.95 * (count - 1)) / this.atRank(first, 0.1 * (count - 1)));
  }

  /** What lies over a power, judged by the mean of each class. */
  private over(power: number): { first: number; count: number; mean: number } {
    let first = 0;
    while (first < CLASSES && !(this.counts[first] && this.sums[first] >= power * this.counts[first])) first++;
    let [count, sum] = [0, 0];
    for (let at = first; at < CLASSES; at++) {
      count += this.counts[at];
      sum += this.sums[at];
    }
    return { first, count, mean: count ? sum / count : 0 };
  }

  /** Mean power of the class that holds a place in rising order, counted from class `first` on. */
  private atRank(first: number, rank: number): number {
    let at = first;
    for (let seen = this.counts[at]; seen <= Math.round(rank) && at < CLASSES - 1; seen += this.counts[at]) at++;
    return this.sums[at] / this.counts[at];
  }
}
