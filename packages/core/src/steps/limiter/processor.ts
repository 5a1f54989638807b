import { dbToGain, gainToDb } from '../../signal/decibels.ts';
import { type Block, millisecondsToFrames, type SignalFormat } from '../../signal/signal.ts';
import { RampedGain } from '../ramped-gain.ts';
import type { Processor } from '../step.ts';
import { PeakStage } from './peak-stage.ts';
import type { LimiterSettings } from './settings.ts';

/**
 * A moving gain bends the wave between samples a little beyond what the samples need. A second, short stage reads the
 * result and takes the rest; it aims this much lower, for the bend that it adds itself.
 */
const MARGIN_DB = 0.015;
const SECOND_LOOKAHEAD_MS = 1;

/** True-peak limiter: channels linked, no overshoot, nothing changed below the ceiling. */
export class LimiterProcessor implements Processor<LimiterSettings> {
  readonly latencyFrames: number;
  private readonly input: RampedGain<LimiterSettings>;
  private readonly first: PeakStage;
  private readonly second: PeakStage;

  constructor(
    private settings: LimiterSettings,
    private readonly format: SignalFormat,
  ) {
    const frames = (ms: number) => millisecondsToFrames(ms, format.sampleRateHz);
    this.input = new RampedGain(settings, format, ({ inputGainDb }) => dbToGain(inputGainDb));
    this.first = new PeakStage(format, frames(settings.lookaheadMs));
    this.second = new PeakStage(format, frames(SECOND_LOOKAHEAD_MS));
    this.latencyFrames = this.first.latencyFrames + this.second.latencyFrames;
  }

  /** Of the first stage: what the second takes is far under a tenth of a decibel. */
  takeTrace() {
    return { gainReductionDb: -gainToDb(this.first.takeLowestGain()) || 0 };
  }

  /** The look-ahead is this processor's latency: a new one takes effect at the next start. */
  update(settings: LimiterSettings): void {
    this.settings = settings;
    this.input.update(settings);
  }

  process(block: Block): void {
    const { ceilingDbtp, releaseMs } = this.settings;
    const ceiling = dbToGain(ceilingDbtp - MARGIN_DB);
    const release = 1 - Math.exp(-1000 / (releaseMs * this.format.sampleRateHz));
    this.input.process(block);
    this.first.process(block, ceiling, release);
    this.second.process(block, ceiling, release);
  }
}
