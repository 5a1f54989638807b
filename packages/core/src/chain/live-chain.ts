import { DelayLine } from '../dsp/delay-line.ts';
import { silenceBadSamples } from '../signal/bad-samples.ts';
import { type Block, copyBlock, emptyBlock, framesOf, type SignalFormat } from '../signal/signal.ts';
import type { Findings, KnownOfRecording } from '../steps/step.ts';
import type { ConfiguredStep } from './chain-file.ts';
import { needsStudy } from './plan.ts';
import { formatAfter, type RunningStep, startSteps } from './step-runner.ts';

export interface LivePlace {
  findings: Readonly<Record<string, Findings>>;
  known?: KnownOfRecording;
  /** Frame of the recording that is heard first. */
  firstFrame?: number;
  /** Where in the recording the findings' own time begins. */
  findingsFrame?: number;
  /** Whether what the last step takes away is wanted, instead of what it leaves. */
  removed?: boolean;
}

/** A step whose findings are not there yet is not heard yet. */
const heardOf = (asked: readonly ConfiguredStep[], findings: LivePlace['findings']): ConfiguredStep[] =>
  asked.filter((step) => !needsStudy(step) || findings[step.id]);

/** Steps that somebody listens to while their settings change. Their study is done: findings are given. */
export class LiveChain {
  /** Frames by which output lags input. */
  readonly latencyFrames: number;
  readonly format: SignalFormat;
  /** Frames that sound on behind the last one that comes in. */
  readonly tailFrames: number;
  private readonly running: RunningStep[];
  private readonly beforeLast: DelayLine | undefined;
  private readonly removed: boolean;
  private readonly formatOf: (steps: readonly ConfiguredStep[]) => SignalFormat;

  private steps: readonly ConfiguredStep[];

  /** What comes out of them, without starting any. */
  static formatOf(
    asked: readonly ConfiguredStep[],
    format: SignalFormat,
    { findings, known = {} }: LivePlace,
  ): SignalFormat {
    return formatAfter(heardOf(asked, findings), format, findings, known);
  }

  constructor(
    asked: readonly ConfiguredStep[],
    format: SignalFormat,
    { findings, known = {}, firstFrame = 0, findingsFrame = 0, removed = false }: LivePlace,
  ) {
    const steps = heardOf(asked, findings);
    this.steps = steps;
    const { running, lateAfter } = startSteps(steps, format, findings, {
      known,
      firstFrame,
      findingsFrame,
      live: true,
    });
    this.running = running;
    this.latencyFrames = lateAfter.at(-1) ?? 0;
    this.tailFrames = running.reduce((sum, step) => sum + step.tailFrames, 0);
    this.format = formatAfter(steps, format, findings, known);
    this.formatOf = (changed) => formatAfter(changed, format, findings, known);
    this.removed = removed;
    const last = this.running.at(-1);
    // where the last step is not heard yet, nothing is taken away
    if (removed && last && steps.at(-1) === asked.at(-1))
      this.beforeLast = new DelayLine(
        formatAfter(steps.slice(0, -1), format, findings, known).channels,
        last.latencyFrames,
      );
  }

  /** Changes the block, or answers one of another layout. */
  process(input: Block): Block {
    silenceBadSamples(input);
    const before = this.removed ? this.running.slice(0, -1) : this.running;
    const block = before.reduce((signal, step) => step.process(signal), input);
    return this.removed ? this.takenFrom(block) : block;
  }

  /** What the last step takes away from a block. */
  private takenFrom(block: Block): Block {
    if (!this.beforeLast) return emptyBlock(block.length, framesOf(block));
    const before = copyBlock(block);
    this.beforeLast.process(before);
    const after = this.running.at(-1)!.process(block);
    // a step that changes the layout takes nothing away that could be heard by itself
    if (after.length !== before.length) return emptyBlock(after.length, framesOf(after));
    before.forEach((channel, c) => {
      for (let i = 0; i < channel.length; i++) channel[i] -= after[c][i];
    });
    return before;
  }

  /** Whether steps differ from these in settings and mix only, and leave the layout at every place as it is. */
  canBecome(steps: readonly ConfiguredStep[]): boolean {
    return (
      steps.length === this.steps.length &&
      steps.every(
        ({ id, definition, scope }, i) =>
          id === this.steps[i].id &&
          definition.kind === this.steps[i].definition.kind &&
          JSON.stringify(scope) === JSON.stringify(this.steps[i].scope) &&
          this.formatOf(steps.slice(0, i + 1)).channels === this.formatOf(this.steps.slice(0, i + 1)).channels,
      )
    );
  }

  /** Takes new settings without a click. Call it only with what it can become. */
  update(steps: readonly ConfiguredStep[]): void {
    this.steps = steps;
    steps.forEach((step, i) => {
      this.running[i].update(step);
    });
  }

  /** What each step did at most since it was last asked, by its id. */
  takeTraces(): Readonly<Record<string, Readonly<Record<string, number>>>> {
    return Object.fromEntries(this.steps.map(({ id }, i) => [id, this.running[i].takeTrace()]));
  }
}
