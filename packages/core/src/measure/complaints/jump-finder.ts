import { kernels, once, held as placed, roomFor } from '@tonos/kernels';
import { predictionErrors, predictor } from '../../dsp/autoregression.ts';
import { findClicks } from '../clicks/find-clicks.ts';

/**
 * Digital clicks of one channel, found and counted only: samples that jump. The second difference of a voice rises and falls over many samples; that
 * of an impulse or a cut stands alone. What stands alone a predictor then judges, as the declick step does.
 */
const CELL_SECONDS = 0.0005;
/** Kernels read four samples at a time. */
const LANES = 4;
/** A jump stands this far over every other within `NEAR` cells on either side. */
const JUMP = 6;
const NEAR = 60;
/** Cells that are kept, as a mask: more than the middle one and those beside it. */
const RING = 127;
const LEAST_JUMP = 0.003;
const OWN_CELLS = 3;
/** Any of those within `NEAR`. */
const FAR = 20;
/** What a candidate is judged by: this much on either side. */
const REACH_SECONDS = 0.045;
const LONGEST_SECONDS = 0.003;
const ORDER_SECONDS = 0.0007;
/** As the declick step is at its default sensitivity. */
const LIMITS = { overMedian: 27, overNeighbours: 3.5 };
/** Frames that are heard in one go. */
const MOST_HEARD = 4096;
/** Room behind those that are looked at: only once it is full they are moved to the front. */
const ROOM = 8 * MOST_HEARD;

const room = once(() => ({ kernel: kernels(), out: roomFor(MOST_HEARD) }));

export class JumpFinder {
  /** The last frames up to `end`, of which those that fill no whole cell yet come last. */
  private readonly held: Float32Array;
  /** So many of them are looked at. */
  private readonly kept: number;
  private end: number;
  private readonly jumps = new Float32Array(RING + 1);
  private readonly cell: number;
  private cells = 0;
  private filled = 0;
  /** Frames so far. */
  private frame = 0;

  constructor(private readonly rate: number) {
    this.cell = LANES * Math.max(1, Math.round((CELL_SECONDS * rate) / LANES));
    this.kept = Math.ceil(2 * REACH_SECONDS * rate) + (NEAR + 3) * this.cell + MOST_HEARD;
    this.held = new Float32Array(this.kept + ROOM);
    this.end = this.kept;
  }

  /** @param channel at most 4096 frames */
  hear(channel: Float32Array, found: (startSeconds: number, endSeconds: number) => void): void {
    const { held, cell, jumps } = this;
    this.hold(channel);
    this.frame += channel.length;
    this.filled += channel.length;
    const groups = Math.floor(this.filled / cell);
    const from = this.end - this.filled;
    this.filled -= groups * cell;
    if (!groups) return;
    const { kernel, out } = room();
    // two samples before the first are read too
    kernel.jumpsOfGroups(placed(held.subarray(from - LANES, from + groups * cell)) + 4 * LANES, groups, cell, out);
    const { f32 } = kernel;
    for (let k = 0; k < groups; k++) {
      jumps[this.cells++ & RING] = f32[(out >> 2) + k];
      if (this.cells <= 2 * NEAR || jumps[(this.cells - 1 - NEAR) & RING] < LEAST_JUMP || !this.stands()) continue;
      const end = from + (k + 1) * cell;
      this.judge(end, this.frame - (this.end - end), found);
    }
  }

  private hold(channel: Float32Array): void {
    const { held, kept } = this;
    if (this.end + channel.length > held.length) {
      held.copyWithin(0, this.end - kept, this.end);
      this.end = kept;
    }
    held.set(channel, this.end);
    this.end += channel.length;
  }

  /** Whether the cell in the middle jumps over all others. */
  private stands(): boolean {
    const { jumps } = this;
    const at = this.cells - 1 - NEAR;
    const own = jumps[at & RING];
    // most cells are beaten by one that lies further off, and a processor guesses that
    if (jumps[(at - FAR) & RING] > own / JUMP || jumps[(at + FAR) & RING] > own / JUMP) return false;
    for (let d = 1; d <= NEAR; d++) {
      const most = d > OWN_CELLS ? own / JUMP : own;
      if (jumps[(at - d) & RING] > most || jumps[(at + d) & RING] > most) return false;
    }
    return true;
  }

  /**
   * The cell in the middle stands over all others: whether a predictor says so too.
   * @param end of what is judged by, in `held`; @param frame of the recording that this is
   */
  private judge(end: number, frame: number, found: (startSeconds: number, endSeconds: number) => void): void {
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
    found(start, start + (click.to - click.from) / rate);
  }
}
