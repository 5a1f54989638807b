import { inPlace, kernels } from '@tonos/kernels';
import { CONTROL_FRAMES, dbToGains } from '../../dsp/control-steps.ts';
import { amplify, ControlledGain } from '../../dsp/controlled-gain.ts';
import { DelayLine } from '../../dsp/delay-line.ts';
import { StepPower } from '../../dsp/step-power.ts';
import { dbToGain } from '../../signal/decibels.ts';
import { type Block, framesOf, millisecondsToFrames, type SignalFormat } from '../../signal/signal.ts';
import { Ballistics } from '../ballistics.ts';
import { DETECTOR_DELAY_MS, PeakDetector, RmsDetector } from '../level-detector.ts';
import type { Processor } from '../step.ts';
import type { CompressorSettings } from './settings.ts';

const PEAK_HOLD_MS = 10;
/** Changes of make-up and detector are smoothed over this, so that they do not click. */
const UPDATE_SECONDS = 0.01;

/** Channels are linked: one gain for all, from their mean power (rms) or their largest sample (peak). */
export class CompressorProcessor implements Processor<CompressorSettings> {
  readonly latencyFrames: number;
  private readonly delay: DelayLine;
  private detector: RmsDetector | PeakDetector;
  private readonly ballistics = new Ballistics();
  private makeupDb: number;
  private makeupShare: number;
  private readonly gain: ControlledGain;
  private readonly power = new StepPower();

  constructor(
    private settings: CompressorSettings,
    private readonly format: SignalFormat,
  ) {
    this.latencyFrames = Math.max(1, millisecondsToFrames(DETECTOR_DELAY_MS, format.sampleRateHz));
    this.delay = new DelayLine(format.channels, this.latencyFrames);
    this.detector = this.newDetector();
    this.makeupDb = settings.makeupDb;
    this.makeupShare = 1 - Math.exp(-CONTROL_FRAMES / format.sampleRateHz / UPDATE_SECONDS);
    this.gain = new ControlledGain(dbToGain(this.makeupDb));
    this.setBallistics();
  }

  takeTrace() {
    return { gainReductionDb: this.ballistics.takeLargest() };
  }

  update(settings: CompressorSettings): void {
    const { releaseMs, detector } = this.settings;
    if (JSON.stringify(settings) !== JSON.stringify(this.settings)) this.gain.ease(this.format.sampleRateHz);
    this.settings = settings;
    if (settings.releaseMs !== releaseMs || settings.detector !== detector) {
      // the hold belongs to the release; a fresh detector fills in 10 ms, and the release covers that
      this.detector = this.newDetector();
    }
    this.setBallistics();
  }

  process(block: Block): void {
    const { meanSquares, largest } = this.power.hear(block);
    const track = this.settings.detector === 'rms' ? meanSquares : largest;
    this.detector.read(track);
    this.toGains(track);
    this.delay.process(block);
    amplify(block, this.gain.over(framesOf(block), track));
  }

  /** Levels, squared, become gains in place. */
  private toGains(track: Float32Array): void {
    const { thresholdDb, ratio, kneeDb } = this.settings;
    const { decibels, reductions, gains } = kernels();
    // make-up that goes over to another value has one of its own at every step
    const isSteady = this.makeupDb === this.settings.makeupDb;
    inPlace(track, [], (count, at) => {
      decibels(at, count);
      reductions(at, count, thresholdDb, 1 - 1 / ratio, kneeDb);
      this.ballistics.readAt(at, count);
      if (isSteady) gains(at, count, this.makeupDb);
    });
    if (isSteady) return;
    for (let k = 0; k < track.length; k++) track[k] = this.nextMakeupDb() - track[k];
    dbToGains(track);
  }

  private nextMakeupDb(): number {
    const missing = this.settings.makeupDb - this.makeupDb;
    this.makeupDb = Math.abs(missing) < 1e-6 ? this.settings.makeupDb : this.makeupDb + this.makeupShare * missing;
    return this.makeupDb;
  }

  private newDetector(): RmsDetector | PeakDetector {
    const { sampleRateHz } = this.format;
    return this.settings.detector === 'rms'
      ? new RmsDetector(sampleRateHz)
      : new PeakDetector(sampleRateHz, this.holdMs);
  }

  private get holdMs(): number {
    return Math.min(PEAK_HOLD_MS, this.settings.releaseMs / 2);
  }

  private setBallistics(): void {
    const { attackMs, releaseMs, detector } = this.settings;
    // the peak detector holds before it lets go: together they take the release time
    const release = detector === 'peak' ? releaseMs - this.holdMs : releaseMs;
    this.ballistics.set(attackMs / 1000, release / 1000, CONTROL_FRAMES / this.format.sampleRateHz);
  }
}
