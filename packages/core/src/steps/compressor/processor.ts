import { amplify, CONTROL_FRAMES, ControlledGain, StepPower } from '../../dsp/controlled-gain.ts';
import { DelayLine } from '../../dsp/delay-line.ts';
import { dbToGain, dbToGainQuickly, dbToPower, powerToDb } from '../../signal/decibels.ts';
import { type Block, framesOf, millisecondsToFrames, type SignalFormat } from '../../signal/signal.ts';
import { Ballistics } from '../ballistics.ts';
import type { Processor } from '../step.ts';
import type { CompressorSettings } from './compressor.ts';
import { gainReductionDb } from './gain-computer.ts';
import { DETECTOR_DELAY_MS, PeakDetector, RmsDetector } from './level-detector.ts';

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
  /** Level by the last control step, squared. */
  private square = 0;
  /** Beneath this level, squared, nothing is turned down. */
  private leastSquare = 0;
  /** The last aim: where nothing is turned down it stays. */
  private last = { db: 0, gain: 1 };

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

  get trace() {
    return { gainReductionDb: this.ballistics.value };
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
    this.power.hear(block);
    const squares = this.settings.detector === 'rms' ? this.power.meanSquares : this.power.largest;
    let step = 0;
    const gains = this.gain.over(framesOf(block), this.aim, () => {
      this.square = this.detector.next(squares[step++]);
    });
    this.delay.process(block);
    amplify(block, gains);
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
    const { attackMs, releaseMs, detector, thresholdDb, kneeDb } = this.settings;
    this.leastSquare = Math.max(1e-14, dbToPower(thresholdDb - kneeDb / 2));
    // the peak detector holds before it lets go: together they take the release time
    const release = detector === 'peak' ? releaseMs - this.holdMs : releaseMs;
    this.ballistics.set(attackMs / 1000, release / 1000, CONTROL_FRAMES / this.format.sampleRateHz);
  }

  /** The gain after the next control step. */
  private readonly aim = (): number => {
    const { thresholdDb, ratio, kneeDb, makeupDb } = this.settings;
    const { square } = this;
    const wanted = square > this.leastSquare ? gainReductionDb(powerToDb(square), thresholdDb, ratio, kneeDb) : 0;
    const reduction = this.ballistics.next(wanted);
    const makeupStep = makeupDb - this.makeupDb;
    this.makeupDb = Math.abs(makeupStep) < 1e-6 ? makeupDb : this.makeupDb + this.makeupShare * makeupStep;
    const gainDb = this.makeupDb - reduction;
    if (gainDb !== this.last.db) this.last = { db: gainDb, gain: dbToGainQuickly(gainDb) };
    return this.last.gain;
  };
}
