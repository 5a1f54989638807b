import { IntervalPeaks } from '../dsp/true-peak.ts';
import { dbToGain, gainToDb } from '../signal/decibels.ts';
import { type Block, framesOf, type SignalFormat, sliceBlock } from '../signal/signal.ts';
import { subBlockStart } from './sub-blocks.ts';

/**
 * Where a recording is loud enough to matter: the true peak of every tenth of a second that reaches -6 dBTP, and whether it holds a
 * flat top. A byte each: bit 7 the flat top, the rest 0 or, from 1 on, the peak in steps of 0.2 dB.
 */
export const PEAK_MARKS_PER_SECOND = 10;
const LEAST_DBTP = -6;
const STEP_DB = 0.2;
const MOST_STEP = 127;
const FLAT_TOP = 128;

export interface PeakMark {
  /** dBTP; null under -6. */
  peakDbtp: number | null;
  hasFlatTop: boolean;
}

/** The largest peak of some marks, and whether any holds a flat top. */
export function largestMark(marks: Uint8Array): PeakMark {
  let step = 0;
  let flat = 0;
  for (const mark of marks) {
    step = Math.max(step, mark % FLAT_TOP);
    flat |= mark & FLAT_TOP;
  }
  return { peakDbtp: step ? Math.round(10 * (LEAST_DBTP + (step - 1) * STEP_DB)) / 10 : null, hasFlatTop: flat > 0 };
}

/** Gathers the peaks; the flat tops are known when all is heard. */
export class PeakMarksMeter {
  private readonly readers: IntervalPeaks[];
  private marks = new Uint8Array(1024);
  private tenth = 0;
  private tenthEnd: number;
  private frame = 0;
  private most = 0;
  private largest = 0;
  private readonly floor = dbToGain(LEAST_DBTP);

  constructor(private readonly format: SignalFormat) {
    this.readers = Array.from({ length: format.channels }, () => new IntervalPeaks());
    this.tenthEnd = subBlockStart(1, format.sampleRateHz, PEAK_MARKS_PER_SECOND);
  }

  hear(block: Block): void {
    const frames = framesOf(block);
    for (let start = 0; start < frames; ) {
      const end = Math.min(frames, start + this.tenthEnd - this.frame);
      sliceBlock(block, start, end).forEach((samples, c) => {
        // until something is loud enough to be marked, only what is larger than all before it counts
        const most = Math.max(this.most, Math.min(this.floor, this.largest));
        this.most = this.readers[c].largest(samples, most);
      });
      this.largest = Math.max(this.largest, this.most);
      this.frame += end - start;
      start = end;
      if (this.frame === this.tenthEnd) this.endTenth();
    }
  }

  /** The true peak of what was heard by now, as a gain (1 = 0 dBTP). */
  truePeak(): number {
    return this.readers.reduce((most, reader) => reader.largestAtEnd(most), this.largest);
  }

  /** @param flatTops frames at which runs of flat tops end */
  conclude(flatTops: readonly number[]): Uint8Array {
    const ended = this.tenth;
    if (this.frame > subBlockStart(this.tenth, this.format.sampleRateHz, PEAK_MARKS_PER_SECOND)) this.endTenth();
    const marks = this.marks.slice(0, this.tenth);
    this.tenth = ended;
    for (const frame of flatTops) {
      const at = Math.floor((frame * PEAK_MARKS_PER_SECOND) / this.format.sampleRateHz);
      if (at < marks.length) marks[at] |= FLAT_TOP;
    }
    return marks;
  }

  private endTenth(): void {
    if (this.tenth === this.marks.length) {
      const marks = new Uint8Array(2 * this.marks.length);
      marks.set(this.marks);
      this.marks = marks;
    }
    const steps = this.most > this.floor ? 1 + Math.round((gainToDb(this.most) - LEAST_DBTP) / STEP_DB) : 0;
    this.marks[this.tenth++] = Math.min(MOST_STEP, steps);
    this.tenthEnd = subBlockStart(this.tenth + 1, this.format.sampleRateHz, PEAK_MARKS_PER_SECOND);
    this.most = 0;
  }
}
