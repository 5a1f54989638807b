import { extremesOf, inPlace, kernels, once, roomFor } from '@tonos/kernels';
import { amplify } from '../../dsp/controlled-gain.ts';
import { DelayLine } from '../../dsp/delay-line.ts';
import { MovingAverage } from '../../dsp/moving-average.ts';
import { SlidingMaximum } from '../../dsp/sliding-extreme.ts';
import { IntervalPeaks, TRUE_PEAK_LATENCY } from '../../dsp/true-peak.ts';
import { type Block, framesOf, type SignalFormat } from '../../signal/signal.ts';

/** Stretches of so many frames are looked at as a whole first. */
const CHUNK = 1024;

const room = once(() => ({ state: roomFor(4) }));

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
  /** Frames since the gain was last below 1 before averaging; beyond `span` all that is held stands for a gain of 1. */
  private calm = Number.POSITIVE_INFINITY;
  private readonly span: number;
  private gains = new Float32Array(0);
  private readonly channelPeaks = new Float32Array(CHUNK);
  /** Smallest gain of the last block, and since somebody asked. */
  private lowestGain = 1;
  private lowestSince = 1;

  constructor(format: SignalFormat, lookaheadFrames: number) {
    const lookahead = Math.max(2, lookaheadFrames);
    const half = Math.floor(lookahead / 2);
    this.first = new MovingAverage(half + 1, 1);
    this.second = new MovingAverage(lookahead - half + 1, 1);
    // a sample answers for the interval before it and the one behind it
    this.hold = new SlidingMaximum(lookahead + 2);
    this.span = 2 * lookahead + 4;
    // the needed gain of an interval is known after the interpolator's latency, and both its ends get it
    this.latencyFrames = TRUE_PEAK_LATENCY + lookahead;
    this.delay = new DelayLine(format.channels, this.latencyFrames);
    this.readers = Array.from({ length: format.channels }, () => new IntervalPeaks());
  }

  /** @param ceiling largest true peak, as a gain; @param release share of the way to 1 that the gain recovers in a frame */
  process(block: Block, ceiling: number, release: number): void {
    const frames = framesOf(block);
    if (this.gains.length < frames) this.gains = new Float32Array(frames);
    this.lowestGain = 1;
    for (let start = 0; start < frames; start += CHUNK) {
      const end = Math.min(frames, start + CHUNK);
      const gains = this.gains.subarray(start, end);
      const largest = this.readPeaks(block, start, end, ceiling, gains);
      this.readGains(gains, largest, ceiling, release);
    }
    this.lowestSince = Math.min(this.lowestSince, this.lowestGain);
    this.delay.process(block);
    if (this.lowestGain < 1) amplify(block, this.gains);
  }

  /** The smallest gain since it was last asked. */
  takeLowestGain(): number {
    const { lowestSince } = this;
    this.lowestSince = 1;
    return lowestSince;
  }

  /** The largest of all channels' peaks, interval by interval; returns the largest of all. */
  private readPeaks(block: Block, start: number, end: number, ceiling: number, peaks: Float32Array): number {
    let largest = this.readers[0].read(block[0].subarray(start, end), peaks, ceiling);
    const others = this.channelPeaks.subarray(0, end - start);
    for (let c = 1; c < block.length; c++) {
      largest = Math.max(largest, this.readers[c].read(block[c].subarray(start, end), others, ceiling));
      for (let i = 0; i < others.length; i++) if (others[i] > peaks[i]) peaks[i] = others[i];
    }
    return largest;
  }

  /** Peaks become gains, in place: held and let go, then averaged twice. */
  private readGains(peaks: Float32Array, largest: number, ceiling: number, release: number): void {
    // most of a voice lies under the ceiling
    if (this.calm > this.span && largest <= ceiling) {
      peaks.fill(1);
      return;
    }
    const { f64, releasedGains } = kernels();
    const { state } = room();
    inPlace(peaks, [], (count, at) => {
      this.hold.readAt(at, count);
      f64[state >> 3] = this.released;
      f64[(state >> 3) + 1] = this.calm;
      releasedGains(at, count, ceiling, release, state);
      this.released = f64[state >> 3];
      this.calm = f64[(state >> 3) + 1];
      this.first.readAt(at, count);
      this.second.readAt(at, count);
      this.lowestGain = Math.min(this.lowestGain, extremesOf(at, count).low);
    });
  }
}
