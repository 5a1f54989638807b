import { DelayLine } from '../../dsp/delay-line.ts';
import { CONTROL_FRAMES, StraightLines } from '../../dsp/straight-lines.ts';
import { dbToGain, powerToDb } from '../../signal/decibels.ts';
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
  private readonly rms: RmsDetector;
  private peak: PeakDetector;
  private readonly ballistics = new Ballistics();
  private makeupDb: number;
  private makeupShare: number;
  private readonly gain: StraightLines;
  private gains = new Float64Array(0);

  constructor(
    private settings: CompressorSettings,
    private readonly format: SignalFormat,
  ) {
    this.latencyFrames = Math.max(1, millisecondsToFrames(DETECTOR_DELAY_MS, format.sampleRateHz));
    this.delay = new DelayLine(format.channels, this.latencyFrames);
    this.rms = new RmsDetector(format.sampleRateHz);
    this.peak = new PeakDetector(format.sampleRateHz, this.holdMs);
    this.makeupDb = settings.makeupDb;
    this.makeupShare = 1 - Math.exp(-CONTROL_FRAMES / format.sampleRateHz / UPDATE_SECONDS);
    this.gain = new StraightLines(dbToGain(this.makeupDb));
    this.setBallistics();
  }

  get trace() {
    return { gainReductionDb: this.ballistics.value };
  }

  update(settings: CompressorSettings): void {
    const { releaseMs, detector } = this.settings;
    this.settings = settings;
    if (settings.releaseMs !== releaseMs || settings.detector !== detector) {
      // the hold belongs to the release; a fresh detector fills in 10 ms, and the release covers that
      this.peak = new PeakDetector(this.format.sampleRateHz, this.holdMs);
    }
    this.setBallistics();
  }

  process(block: Block): void {
    const frames = framesOf(block);
    if (this.gains.length < frames) this.gains = new Float64Array(frames);
    this.computeGains(block, frames);
    this.delay.process(block);
    const { gains } = this;
    for (const channel of block) for (let i = 0; i < frames; i++) channel[i] *= gains[i];
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

  private computeGains(block: Block, frames: number): void {
    const channels = block.length;
    const usesPeak = this.settings.detector === 'peak';
    for (let i = 0; i < frames; i++) {
      let sum = 0;
      let largest = 0;
      for (let c = 0; c < channels; c++) {
        const square = block[c][i] * block[c][i];
        sum += square;
        if (square > largest) largest = square;
      }
      const meanSquare = this.rms.next(sum / channels);
      const peakSquare = this.peak.next(largest);
      if (this.gain.isDue) this.aim(usesPeak ? peakSquare : meanSquare);
      this.gains[i] = this.gain.next();
    }
  }

  private aim(square: number): void {
    const { thresholdDb, ratio, kneeDb, makeupDb } = this.settings;
    const wanted = square > 1e-14 ? gainReductionDb(powerToDb(square), thresholdDb, ratio, kneeDb) : 0;
    const reduction = this.ballistics.next(wanted);
    const makeupStep = makeupDb - this.makeupDb;
    this.makeupDb = Math.abs(makeupStep) < 1e-6 ? makeupDb : this.makeupDb + this.makeupShare * makeupStep;
    this.gain.aim(dbToGain(this.makeupDb - reduction));
  }
}
