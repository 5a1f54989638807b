import { inPlace, kernels } from '@tonos/kernels';
import { CONTROL_FRAMES, powersToDb } from '../../dsp/control-steps.ts';
import { amplify, ControlledGain } from '../../dsp/controlled-gain.ts';
import { DelayLine } from '../../dsp/delay-line.ts';
import { StepPower } from '../../dsp/step-power.ts';
import { type Block, framesOf, millisecondsToFrames, type SignalFormat } from '../../signal/signal.ts';
import { Ballistics } from '../ballistics.ts';
import { DETECTOR_DELAY_MS, RmsDetector } from '../level-detector.ts';
import type { Processor } from '../step.ts';
import type { ExpanderSettings } from './settings.ts';

/** It begins to open this much before a word: by then an attack of 2 ms is over from 60 dB. */
const LOOKAHEAD_MS = 15;
/** Once open, it closes this far under the threshold: a level that wavers about it does not make it flutter. */
const HYSTERESIS_DB = 3;

/** Downward expander: level in dBFS -> reduction in dB (>= 0). */
export const expansionDb = (levelDb: number, { thresholdDb, ratio, rangeDb }: ExpanderSettings): number =>
  levelDb >= thresholdDb ? 0 : Math.min(rangeDb, (thresholdDb - levelDb) * (ratio - 1));

/** Channels are linked: one gain for all, from their mean power. */
export class ExpanderProcessor implements Processor<ExpanderSettings> {
  readonly latencyFrames: number;
  private readonly delay: DelayLine;
  private readonly detector: RmsDetector;
  private readonly ballistics = new Ballistics();
  private open = false;
  /** Control steps since the level was last over the threshold. */
  private sinceLoud = Number.POSITIVE_INFINITY;
  private readonly gain = new ControlledGain(1);
  private readonly power = new StepPower();

  constructor(
    private settings: ExpanderSettings,
    private readonly format: SignalFormat,
  ) {
    const rate = format.sampleRateHz;
    this.latencyFrames = Math.max(1, millisecondsToFrames(DETECTOR_DELAY_MS + LOOKAHEAD_MS, rate));
    this.delay = new DelayLine(format.channels, this.latencyFrames);
    this.detector = new RmsDetector(rate);
    this.setBallistics();
  }

  takeTrace() {
    return { gainReductionDb: this.ballistics.takeLargest() };
  }

  update(settings: ExpanderSettings): void {
    if (JSON.stringify(settings) !== JSON.stringify(this.settings)) this.gain.ease(this.format.sampleRateHz);
    this.settings = settings;
    this.setBallistics();
  }

  process(block: Block): void {
    const { meanSquares: track } = this.power.hear(block);
    this.detector.read(track);
    this.toGains(track);
    this.delay.process(block);
    amplify(block, this.gain.over(framesOf(block), track));
  }

  /** Mean squares become gains in place. */
  private toGains(track: Float32Array): void {
    powersToDb(track);
    for (let k = 0; k < track.length; k++)
      track[k] = this.isOpenAt(track[k]) ? 0 : expansionDb(track[k], this.settings);
    inPlace(track, [], (count, at) => {
      this.ballistics.readAt(at, count);
      kernels().gains(at, count, 0);
    });
  }

  /** Whether it stands open one control step later, at this level. */
  private isOpenAt(levelDb: number): boolean {
    const { thresholdDb, holdMs } = this.settings;
    if (levelDb >= thresholdDb) {
      this.open = true;
      this.sinceLoud = 0;
    } else {
      this.sinceLoud++;
      // what is heard ahead of time is held so much longer
      const held =
        this.sinceLoud * CONTROL_FRAMES < millisecondsToFrames(holdMs + LOOKAHEAD_MS, this.format.sampleRateHz);
      if (!held && levelDb < thresholdDb - HYSTERESIS_DB) this.open = false;
    }
    return this.open;
  }

  private setBallistics(): void {
    const { attackMs, releaseMs } = this.settings;
    // what grows here is the reduction: it grows as the expander closes
    this.ballistics.set(releaseMs / 1000, attackMs / 1000, CONTROL_FRAMES / this.format.sampleRateHz);
  }
}
