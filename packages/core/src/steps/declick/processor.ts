import { interpolate, predictionErrors, predictor } from '../../dsp/autoregression.ts';
import { DelayLine } from '../../dsp/delay-line.ts';
import { StretchRepair } from '../../dsp/stretch-repair.ts';
import { type ClickLimits, findClicks } from '../../measure/clicks/find-clicks.ts';
import { type Block, millisecondsToFrames, type SignalFormat } from '../../signal/signal.ts';
import type { Processor } from '../step.ts';
import { MouthRepair } from './mouth-repair.ts';
import type { DeclickSettings } from './settings.ts';

const STRETCH_MS = 20;
/** What a click is judged by, on either side: three periods of the lowest voices. */
const REACH_MS = 36;
const LONGEST_MS = 5;
const ORDER_MS = 0.7;
/** Rebuilt beyond a click's visible ends. */
const MARGIN = 2;
/** The predictor was learned with the click inside: once it is gone, it is learned again. */
const ROUNDS = 2;

const limitsFor = ({ sensitivity }: DeclickSettings, rate: number): ClickLimits => ({
  overMedian: 60 * 0.2 ** sensitivity,
  overNeighbours: 6 * 0.35 ** sensitivity,
  longest: millisecondsToFrames(LONGEST_MS, rate),
  near: millisecondsToFrames(REACH_MS - LONGEST_MS - 1, rate),
});

/** Each channel by itself: a click on one side is none on the other. */
export class DeclickProcessor implements Processor<DeclickSettings> {
  readonly latencyFrames: number;
  private readonly channels: StretchRepair[];
  private readonly mouth: MouthRepair[];
  private readonly wait: DelayLine;
  private readonly waitMouth: DelayLine;
  private readonly order: number;
  private limits: ClickLimits;
  /** So far. */
  private found = 0;

  constructor(
    private settings: DeclickSettings,
    private readonly format: SignalFormat,
  ) {
    const rate = format.sampleRateHz;
    this.order = Math.max(16, millisecondsToFrames(ORDER_MS, rate));
    this.limits = limitsFor(settings, rate);
    const [stretch, reach] = [millisecondsToFrames(STRETCH_MS, rate), millisecondsToFrames(REACH_MS, rate)];
    this.channels = Array.from(
      { length: format.channels },
      () => new StretchRepair(stretch, reach, (seen, from, to) => this.repair(seen, from, to)),
    );
    this.mouth = Array.from({ length: format.channels }, () => new MouthRepair(rate));
    // one latency for all settings: what is not wanted waits as long
    this.wait = new DelayLine(format.channels, this.channels[0].latencyFrames);
    this.waitMouth = new DelayLine(format.channels, this.mouth[0].latencyFrames);
    this.latencyFrames = this.wait.frames + this.waitMouth.frames;
  }

  takeTrace() {
    return { clicks: this.found + this.mouth.reduce((sum, { found }) => sum + found, 0) };
  }

  /** Other kinds of clicks take effect at the next start; sensitivity at once. */
  update(settings: DeclickSettings): void {
    this.settings = { ...settings, clicks: this.settings.clicks };
    this.limits = limitsFor(settings, this.format.sampleRateHz);
  }

  process(block: Block): void {
    const { clicks, sensitivity } = this.settings;
    if (clicks === 'mouth') this.wait.process(block);
    else block.forEach((channel, c) => this.channels[c].process(channel));
    if (clicks === 'digital') this.waitMouth.process(block);
    else block.forEach((channel, c) => this.mouth[c].process(channel, sensitivity));
  }

  private repair(seen: Float64Array, from: number, to: number): undefined {
    if (seen.every((x) => x === 0)) return;
    const clicks = findClicks(predictionErrors(seen, predictor(seen, this.order)), from, to, this.limits);
    if (!clicks.length) return;
    this.found += clicks.length;
    const marked = clicks.map(({ from: first, to: end }) =>
      Array.from({ length: end - first + 2 * MARGIN }, (_, i) => first - MARGIN + i).filter(
        (i) => i >= this.order && i < seen.length - this.order,
      ),
    );
    // at first the click itself would spoil what it is rebuilt by
    for (const i of marked.flat()) seen[i] = 0;
    for (let round = 0; round < ROUNDS; round++) {
      const a = predictor(seen, this.order);
      for (const one of marked) interpolate(seen, one, a);
    }
  }
}
