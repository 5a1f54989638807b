import { TruePeakMeter } from '../dsp/true-peak.ts';
import { gainToDb } from '../signal/decibels.ts';
import { type Block, framesOf, type SignalFormat, sliceBlock } from '../signal/signal.ts';
import { LoudnessMeter } from './loudness.ts';
import { subBlockStart } from './sub-blocks.ts';

/** What a meter shows at one moment of listening. Levels are null where there is none (yet). */
export interface MeterReading {
  momentaryLufs: number | null;
  shortTermLufs: number | null;
  /** Since the meter's start. */
  integratedLufs: number | null;
  /** The highest since the meter's start. */
  truePeakDbtp: number | null;
  /** Of the last 100 ms; null for anything but two channels, and in silence. */
  correlation: number | null;
}

const READINGS_PER_SECOND = 10;
/** The gates look at everything heard, so the integrated loudness is read once a second only. */
const INTEGRATED_EVERY = 10;

const levelOf = (value: number): number | null => (Number.isFinite(value) ? value : null);

/** The meters that run along while somebody listens: the same measures as a file's, read ten times a second. */
export class LiveMeter {
  private readonly loudness: LoudnessMeter;
  private readonly truePeak: TruePeakMeter;
  private frame = 0;
  private readings = 0;
  private readingEnd: number;
  private integratedLufs: number | null = null;
  private readonly products = { left: 0, right: 0, both: 0 };

  /** @param read called with each reading and the number of frames heard by then */
  constructor(
    private readonly format: SignalFormat,
    private readonly read: (reading: MeterReading, frames: number) => void,
  ) {
    this.loudness = new LoudnessMeter(format);
    this.truePeak = new TruePeakMeter(format.channels);
    this.readingEnd = subBlockStart(1, format.sampleRateHz, READINGS_PER_SECOND);
  }

  hear(block: Block): void {
    const frames = framesOf(block);
    let start = 0;
    while (start < frames) {
      const end = Math.min(frames, start + this.readingEnd - this.frame);
      this.hearPart(sliceBlock(block, start, end));
      this.frame += end - start;
      start = end;
      if (this.frame === this.readingEnd) this.endReading();
    }
  }

  private hearPart(part: Block): void {
    this.loudness.hear(part);
    this.truePeak.hear(part);
    if (part.length !== 2) return;
    const [left, right] = part;
    const { products } = this;
    for (let i = 0; i < left.length; i++) {
      products.left += left[i] * left[i];
      products.right += right[i] * right[i];
      products.both += left[i] * right[i];
    }
  }

  private endReading(): void {
    this.readings++;
    this.readingEnd = subBlockStart(this.readings + 1, this.format.sampleRateHz, READINGS_PER_SECOND);
    if (this.readings % INTEGRATED_EVERY === 0) this.integratedLufs = levelOf(this.loudness.conclude().integratedLufs);
    const { momentaryLufs, shortTermLufs } = this.loudness.now;
    const { left, right, both } = this.products;
    Object.assign(this.products, { left: 0, right: 0, both: 0 });
    this.read(
      {
        momentaryLufs: levelOf(momentaryLufs),
        shortTermLufs: levelOf(shortTermLufs),
        integratedLufs: this.integratedLufs,
        truePeakDbtp: levelOf(gainToDb(this.truePeak.soFar)),
        correlation: left && right ? both / Math.sqrt(left * right) : null,
      },
      this.frame,
    );
  }
}
