import { powerToDb } from '../../signal/decibels.ts';

/**
 * The constant offset of a channel where nobody speaks: a lopsided voice has a mean of its own, and is not off centre. Frames of 20 ms are
 * classed by their level about their own mean; the offset is the mean of the frames' means over the quietest tenth. Where those
 * means swing about nothing, as in wind and rumble, no offset can be told. Memory is the same for any length.
 */
const CLASSES = 160;
const QUIET_SHARE = 0.1;
const LEAST_FRAMES = 5;
const SILENT = 1e-14;
/** Standard errors by which an offset stands out from the swing of the frames' means. */
const SIGNIFICANT = 4;

export class OffsetMeter {
  private readonly counts = new Uint32Array(CLASSES);
  private readonly sums = new Float64Array(CLASSES);
  private readonly squares = new Float64Array(CLASSES);

  /** @param mean of a frame's samples; @param moving their power about it */
  add(mean: number, moving: number): void {
    if (moving <= SILENT) return;
    const at = Math.max(0, Math.min(CLASSES - 1, Math.round(powerToDb(moving)) + CLASSES - 10));
    this.counts[at]++;
    this.sums[at] += mean;
    this.squares[at] += mean * mean;
  }

  conclude(): number {
    const wanted = Math.max(LEAST_FRAMES, QUIET_SHARE * this.counts.reduce((sum, count) => sum + count, 0));
    let [frames, sum, squares] = [0, 0, 0];
    for (let at = 0; at < CLASSES && frames < wanted; at++) {
      frames += this.counts[at];
      sum += this.sums[at];
      squares += this.squares[at];
    }
    if (!frames) return 0;
    const mean = sum / frames;
    const error = Math.sqrt(Math.max(0, squares / frames - mean * mean) / frames);
    return Math.abs(mean) > SIGNIFICANT * error ? mean : 0;
  }
}
