import { CONTROL_FRAMES, dbToGains } from '../../dsp/control-steps.ts';
import { amplify, ControlledGain } from '../../dsp/controlled-gain.ts';
import { dbToGain } from '../../signal/decibels.ts';
import { type Block, framesOf, type SignalFormat } from '../../signal/signal.ts';
import type { Processor } from '../step.ts';
import { gainCurve } from './gain-curve.ts';
import { type LevellerFindings, POINTS_PER_SECOND } from './level-study.ts';
import type { LevellerSettings } from './settings.ts';

const UPDATE_SECONDS = 0.02;

/** Follows a gain curve that is known beforehand, on straight lines in dB between its points. Nothing is delayed. */
export class LevellerProcessor implements Processor<LevellerSettings> {
  readonly latencyFrames = 0;
  private curve: Float32Array;
  /** How far the gain still is from a curve that was changed; dies away. */
  private offsetDb = 0;
  private readonly settle: number;
  private gainDb: number;
  private largestDb = 0;
  /** Frames of a control step that has not ended. */
  private phase = 0;
  private readonly gain: ControlledGain;

  constructor(
    private settings: LevellerSettings,
    private readonly format: SignalFormat,
    private readonly findings: LevellerFindings,
    private frame = 0,
  ) {
    this.curve = gainCurve(findings.levels, settings);
    this.gainDb = this.curveAt(frame + CONTROL_FRAMES);
    this.gain = new ControlledGain(dbToGain(this.curveAt(frame)), dbToGain(this.gainDb));
    this.settle = Math.exp(-CONTROL_FRAMES / format.sampleRateHz / UPDATE_SECONDS);
  }

  takeTrace() {
    const { largestDb } = this;
    this.largestDb = Math.abs(this.gainDb);
    return { gainDb: largestDb };
  }

  update(settings: LevellerSettings): void {
    if (JSON.stringify(settings) === JSON.stringify(this.settings)) return;
    this.settings = settings;
    this.curve = gainCurve(this.findings.levels, settings);
    this.offsetDb = this.gainDb - this.curveAt(this.frame + CONTROL_FRAMES);
  }

  process(block: Block): void {
    const frames = framesOf(block);
    const aims = new Float32Array(Math.floor((this.phase + frames) / CONTROL_FRAMES));
    this.phase = (this.phase + frames) % CONTROL_FRAMES;
    for (let k = 0; k < aims.length; k++) aims[k] = this.nextGainDb();
    dbToGains(aims);
    amplify(block, this.gain.over(frames, aims));
  }

  /** A control step ends: where the gain shall be when the next one does. */
  private nextGainDb(): number {
    this.frame += CONTROL_FRAMES;
    this.offsetDb = Math.abs(this.offsetDb) < 1e-4 ? 0 : this.offsetDb * this.settle;
    this.gainDb = this.curveAt(this.frame + CONTROL_FRAMES) + this.offsetDb;
    this.largestDb = Math.max(this.largestDb, Math.abs(this.gainDb));
    return this.gainDb;
  }

  /** Point i holds in the middle of its tenth of a second. */
  private curveAt(frame: number): number {
    const { curve } = this;
    if (!curve.length) return 0;
    const position = (frame / this.format.sampleRateHz) * POINTS_PER_SECOND - 0.5;
    const at = Math.floor(position);
    const share = position - at;
    const point = (i: number) => curve[Math.max(0, Math.min(curve.length - 1, i))];
    return point(at) + share * (point(at + 1) - point(at));
  }
}
