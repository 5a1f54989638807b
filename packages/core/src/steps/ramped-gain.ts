import { type Block, framesOf, type SignalFormat } from '../signal/signal.ts';
import { noTrace, type Processor } from './step.ts';

const RAMP_MS = 20;

/** A gain that moves to its new value on a straight line of 20 ms when it is changed. */
export class RampedGain<Settings> implements Processor<Settings> {
  readonly latencyFrames = 0;
  readonly takeTrace = noTrace;
  private gain: number;
  private target: number;
  private left = 0;
  private readonly rampFrames: number;

  /** @param toGain the factor for settings */
  constructor(
    settings: Settings,
    format: SignalFormat,
    private readonly toGain: (settings: Settings) => number,
  ) {
    this.gain = toGain(settings);
    this.target = this.gain;
    this.rampFrames = Math.round((RAMP_MS / 1000) * format.sampleRateHz);
  }

  update(settings: Settings): void {
    const target = this.toGain(settings);
    if (target === this.target) return;
    this.target = target;
    this.left = this.rampFrames;
  }

  process(block: Block): void {
    const frames = framesOf(block);
    const ramped = Math.min(this.left, frames);
    const { target } = this;
    const step = ramped ? (target - this.gain) / this.left : 0;
    for (const channel of block) {
      let gain = this.gain;
      for (let i = 0; i < ramped; i++) {
        gain += step;
        channel[i] *= gain;
      }
      if (target !== 1) for (let i = ramped; i < frames; i++) channel[i] *= target;
    }
    this.left -= ramped;
    this.gain = this.left ? this.gain + step * ramped : target;
  }
}
