import { DelayLine } from '../../dsp/delay-line.ts';
import { MovingAverage } from '../../dsp/moving-average.ts';
import { SlidingMaximum } from '../../dsp/sliding-extreme.ts';
import { IntervalPeaks, TRUE_PEAK_LATENCY } from '../../dsp/true-peak.ts';
import { type Block, framesOf, type SignalFormat } from '../../signal/signal.ts';

/**
 * One look-ahead stage of a limiter.
 *
 * The gain that each interval between samples needs is held at its smallest over the look-ahead, let go at the release, and
 * averaged by two moving windows that together span the look-ahead. An average of values none of which exceeds what
 * sample n needs does not exceed it either: no sample gets more than its own peak allows, and the gain has no corner.
 */
export class PeakStage {
  readonly latencyFrames: number;
  private readonly delay: DelayLine;
  private readonly readers: IntervalPeaks[];
  private readonly hold: SlidingMaximum;
  private readonly first: MovingAverage;
  private readonly second: MovingAverage;
  private released = 1;
  private lastPeak = 0;
  /** Frames since the gain was last below 1 before averaging; beyond `span` all that is held stands for a gain of 1. */
  private calm = Number.POSITIVE_INFINITY;
  private readonly span: number;
  private peaks = new Float32Array(0);
  private channelPeaks = new Float32Array(0);
  /** Largest gain reduction of the last block, as a factor. */
  lowestGain = 1;

  constructor(format: SignalFormat, lookaheadFrames: number) {
    const lookahead = Math.max(2, lookaheadFrames);
    const half = Math.floor(lookahead / 2);
    this.first = new MovingAverage(half + 1, 1);
    this.second = new MovingAverage(lookahead - half + 1, 1);
    this.hold = new SlidingMaximum(lookahead + 1);
    this.span = 2 * lookahead + 4;
    // the needed gain of an interval is known after the interpolator's latency, and both its ends get it
    this.latencyFrames = TRUE_PEAK_LATENCY + lookahead;
    this.delay = new DelayLine(format.channels, this.latencyFrames);
    this.readers = Array.from({ length: format.channels }, () => new IntervalPeaks());
  }

  /** @param ceiling largest true peak, as a gain; @param release share of the way to 1 that the gain recovers in a frame */
  process(block: Block, ceiling: number, release: number): void {
    const frames = framesOf(block);
    if (this.peaks.length < frames) {
      this.peaks = new Float32Array(frames);
      this.channelPeaks = new Float32Array(frames);
    }
    const { peaks, channelPeaks } = this;
    peaks.fill(0, 0, frames);
    for (let c = 0; c < block.length; c++) {
      this.readers[c].read(block[c], channelPeaks, ceiling);
      for (let i = 0; i < frames; i++) if (channelPeaks[i] > peaks[i]) peaks[i] = channelPeaks[i];
    }
    this.delay.process(block);
    this.lowestGain = 1;
    for (let i = 0; i < frames; i++) peaks[i] = this.nextGain(peaks[i], ceiling, release);
    if (this.lowestGain === 1) return;
    for (const channel of block) for (let i = 0; i < frames; i++) channel[i] *= peaks[i];
  }

  private nextGain(peak: number, ceiling: number, release: number): number {
    const both = peak > this.lastPeak ? peak : this.lastPeak;
    this.lastPeak = peak;
    if (this.calm > this.span && both <= ceiling) return 1;
    const over = this.hold.next(both);
    const needed = over > ceiling ? ceiling / over : 1;
    const risen = this.released + release * (1 - this.released);
    this.released = needed < risen ? needed : risen > 0.999999 ? 1 : risen;
    this.calm = this.released === 1 ? this.calm + 1 : 0;
    const gain = this.second.next(this.first.next(this.released));
    if (gain < this.lowestGain) this.lowestGain = gain;
    return gain;
  }
}
