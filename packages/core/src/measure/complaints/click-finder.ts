import { predictionErrors, predictor } from '../../dsp/autoregression.ts';
import { HalfBandDecimator } from '../../dsp/half-band.ts';
import { findClicks } from '../clicks/find-clicks.ts';
import { MouthClickScan } from '../clicks/mouth-click-scan.ts';

/** Clicks of one channel, found and counted only. */

interface Place {
  startSeconds: number;
  endSeconds: number;
}

/** Mouth clicks show at half the rate as well, from this rate on. */
const HALVED_FROM_HZ = 40000;
const CELL_SECONDS = 0.0005;
/** A jump stands this far over every other within `NEAR` cells on either side. */
const JUMP = 6;
const NEAR = 60;
/** Cells that are kept, as a mask: more than the middle one and those beside it. */
const RING = 127;
const LEAST_JUMP = 0.003;
const OWN_CELLS = 3;
/** What a candidate is judged by: this much on either side. */
const REACH_SECONDS = 0.045;
const LONGEST_SECONDS = 0.003;
const ORDER_SECONDS = 0.0007;
/** As the declick step is at its default sensitivity. */
const LIMITS = { overMedian: 27, overNeighbours: 3.5 };
const MOST_KEPT = 10_000;
/** Frames that are heard in one go. */
const MOST_HEARD = 4096;
/** Below this apart a burst and a jump are one click. */
const SAME_SECONDS = 0.006;

export class ClickFinder {
  private readonly scan: MouthClickScan;
  private readonly halvings: HalfBandDecimator[];
  private readonly halved: [Float32Array, Float32Array];
  private readonly held: Float32Array;
  private readonly jumps = new Float32Array(RING + 1);
  private readonly cell: number;
  private cells = 0;
  private filled = 0;
  private most = 0;
  private before = [0, 0];
  private frame = 0;
  readonly mouth: Place[] = [];
  readonly digital: Place[] = [];
  /** All of them, those beyond the kept ones too. */
  counts = { mouth: 0, digital: 0 };

  constructor(private readonly rate: number) {
    const halvings = Math.max(0, Math.floor(Math.log2(rate / (HALVED_FROM_HZ / 2))));
    this.halvings = Array.from({ length: halvings }, () => new HalfBandDecimator());
    this.halved = [new Float32Array(4096), new Float32Array(4096)];
    this.scan = new MouthClickScan(rate / 2 ** halvings);
    this.cell = Math.max(1, Math.round(CELL_SECONDS * rate));
    this.held = new Float32Array(Math.ceil(2 * REACH_SECONDS * rate) + (NEAR + 2) * this.cell + MOST_HEARD);
  }

  /** @param channel at most 4096 frames */
  hear(channel: Float32Array): void {
    let from: Float32Array = channel;
    this.halvings.forEach((halving, stage) => {
      const out = this.halved[stage % 2];
      from = out.subarray(0, halving.push(from, out));
    });
    const factor = 2 ** this.halvings.length;
    this.scan.push(from, 0.5, ({ start, end }) => {
      this.note('mouth', (start * factor) / this.rate, (end * factor) / this.rate);
    });
    this.hearJumps(channel);
  }

  /** Second differences: what jumps from one sample to the next stands out, and slopes do not. */
  private hearJumps(channel: Float32Array): void {
    const { held, cell } = this;
    held.copyWithin(0, channel.length);
    held.set(channel, held.length - channel.length);
    let [b, a] = this.before;
    let { filled, most } = this;
    for (let i = 0; i < channel.length; i++) {
      const x = channel[i];
      const jump = x - 2 * b + a;
      if (jump > most) most = jump;
      else if (-jump > most) most = -jump;
      a = b;
      b = x;
      if (++filled < cell) continue;
      filled = 0;
      this.jumps[this.cells & RING] = most;
      most = 0;
      if (++this.cells > 2 * NEAR && this.stands())
        this.judge(held.length - channel.length + i + 1, this.frame + i + 1);
    }
    this.before = [b, a];
    this.filled = filled;
    this.most = most;
    this.frame += channel.length;
  }

  /** Whether the cell in the middle jumps over all others. */
  private stands(): boolean {
    const { jumps } = this;
    const at = this.cells - 1 - NEAR;
    const own = jumps[at & RING];
    if (own < LEAST_JUMP) return false;
    // from the nearest outward: most cells are beaten at once
    for (let d = 1; d <= NEAR; d++) {
      const most = d > OWN_CELLS ? own / JUMP : own;
      if (jumps[(at - d) & RING] > most || jumps[(at + d) & RING] > most) return false;
    }
    return true;
  }

  /**
   * The cell in the middle stands over all others: whether a predictor says so too.
   * @param end of what is heard, in `held`; @param frame of the recording that this is
   */
  private judge(end: number, frame: number): void {
    const { held, rate, cell } = this;
    const reach = Math.round(REACH_SECONDS * rate);
    const middle = end - NEAR * cell - (cell >> 1);
    const from = Math.max(0, middle - reach);
    const seen = Float64Array.from(held.subarray(from, Math.min(end, middle + reach)));
    const errors = predictionErrors(seen, predictor(seen, Math.max(16, Math.round(ORDER_SECONDS * rate))));
    const longest = Math.round(LONGEST_SECONDS * rate);
    const near = Math.round(0.03 * rate);
    const [click] = findClicks(errors, middle - from - 2 * cell, middle - from + 2 * cell, {
      ...LIMITS,
      longest,
      near,
    });
    if (!click) return;
    const start = (frame - end + from + click.from) / rate;
    this.note('digital', start, start + (click.to - click.from) / rate);
  }

  private note(kind: 'mouth' | 'digital', startSeconds: number, endSeconds: number): void {
    const other = kind === 'mouth' ? this.digital : this.mouth;
    const same = other.findIndex((one) => Math.abs(one.startSeconds - startSeconds) < SAME_SECONDS);
    // an impulse rings in the filters that bursts are heard through: it is what it is
    if (same >= 0 && kind === 'mouth') return;
    if (same >= 0) {
      this.mouth.splice(same, 1);
      this.counts.mouth--;
    }
    this.counts[kind]++;
    if (this[kind].length < MOST_KEPT) this[kind].push({ startSeconds, endSeconds });
  }
}
