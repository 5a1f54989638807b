import { inPlace } from '@tonos/kernels';
import { controlSteps } from '../dsp/control-steps.ts';
import { MovingAverage } from '../dsp/moving-average.ts';
import { SlidingMaximum } from '../dsp/sliding-extreme.ts';
import { millisecondsToFrames } from '../signal/signal.ts';

/**
 * The level of linked channels by control steps, lined up with a signal that is delayed by `DETECTOR_DELAY_MS`.
 *
 * rms: mean square under a triangle of 10 ms (two moving averages in series), which smooths the ripple of a tone. In dB a
 * step upwards shows as soon as the window touches it, so the signal is delayed by less than half the window: attack and
 * release then keep their times within a millisecond or two. peak: largest of the last `holdMs`, which bridges the zero crossings.
 */
export const DETECTOR_DELAY_MS = 3.5;
const HALF_WINDOW_MS = 5;

export class RmsDetector {
  private readonly first: MovingAverage;
  private readonly second: MovingAverage;

  constructor(sampleRateHz: number) {
    const window = controlSteps(millisecondsToFrames(HALF_WINDOW_MS, sampleRateHz));
    this.first = new MovingAverage(window);
    this.second = new MovingAverage(window);
  }

  /** Mean squares of control steps become those of the window that ends with each, in place. */
  read(squares: Float32Array): void {
    inPlace(squares, [], (count, at) => {
      this.first.readAt(at, count);
      this.second.readAt(at, count);
    });
  }
}

export class PeakDetector {
  private readonly delayed: Float64Array;
  private at = 0;
  private readonly hold: SlidingMaximum;

  constructor(sampleRateHz: number, holdMs: number) {
    this.delayed = new Float64Array(controlSteps(millisecondsToFrames(DETECTOR_DELAY_MS, sampleRateHz)));
    this.hold = new SlidingMaximum(controlSteps(millisecondsToFrames(holdMs, sampleRateHz)));
  }

  /** Largest squared samples of control steps become the largest held, in place. */
  read(squares: Float32Array): void {
    for (let k = 0; k < squares.length; k++) {
      const old = this.delayed[this.at];
      this.delayed[this.at] = squares[k];
      if (++this.at === this.delayed.length) this.at = 0;
      squares[k] = this.hold.next(old);
    }
  }
}
