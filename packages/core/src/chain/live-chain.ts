import { DelayLine } from '../dsp/delay-line.ts';
import { type Block, copyBlock, emptyBlock, framesOf, type SignalFormat } from '../signal/signal.ts';
import type { Findings, KnownOfRecording } from '../steps/step.ts';
import type { ConfiguredStep } from './chain-file.ts';
import { needsStudy } from './plan.ts';
import { formatAfter, RunningStep } from './step-runner.ts';

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

/** Steps that somebody listens to while their settings change. Their study is done: findings are given. */
export class LiveChain {
  /** Frames by which output lags input. */
  readonly latencyFrames: number;
  readonly format: SignalFormat;
  private readonly running: RunningStep[];
  private readonly beforeLast: DelayLine | undefined;
  private readonly removed: boolean;

  private steps: readonly ConfiguredStep[];

  constructor(
    asked: readonly ConfiguredStep[],
    format: SignalFormat,
    { findings, known = {}, firstFrame = 0, findingsFrame = 0, removed = false }: LivePlace,
  ) {
    // a step whose findings are not there yet is not heard yet
    const steps = asked.filter((step) => !needsStudy(step) || findings[step.id]);
    this.steps = steps;
    let lateFrames = 0;
    this.running = steps.map((step, i) => {
      const own = formatAfter(steps.slice(0, i), format, findings);
      const one = new RunningStep(step, own, findings[step.id] ?? {}, {
        known,
        lateFrames,
        firstFrame,
        findingsFrame,
        live: true,
      });
      lateFrames += one.latencyFrames;
      return one;
    });
    this.latencyFrames = lateFrames;
    this.format = formatAfter(steps, format, findings);
    this.removed = removed && steps.length > 0;
    const last = this.running.at(-1);
    if (this.removed)
      this.beforeLast = new DelayLine(formatAfter(steps.slice(0, -1), format, findings).channels, last!.latencyFrames);
  }

  /** Changes the block, or answers one of another layout. */
  process(input: Block): Block {
    let block = input;
    for (const step of this.removed ? this.running.slice(0, -1) : this.running) block = step.process(block);
    if (!this.removed) return block;
    const before = copyBlock(block);
    this.beforeLast!.process(before);
    const after = this.running.at(-1)!.process(block);
    // a step that changes the layout takes nothing away that could be heard by itself
    if (after.length !== before.length) return emptyBlock(after.length, framesOf(after));
    before.forEach((channel, c) => {
      for (let i = 0; i < channel.length; i++) channel[i] -= after[c][i];
    });
    return before;
  }

  /** Whether steps differ from these in settings and mix only. */
  canBecome(steps: readonly ConfiguredStep[]): boolean {
    return (
      steps.length === this.steps.length &&
      steps.every(
        ({ id, definition, scope }, i) =>
          id === this.steps[i].id &&
          definition.kind === this.steps[i].definition.kind &&
          JSON.stringify(scope) === JSON.stringify(this.steps[i].scope),
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

  /** What each step does now, by its id. */
  get traces(): Readonly<Record<string, Readonly<Record<string, number>>>> {
    return Object.fromEntries(this.steps.map(({ id }, i) => [id, this.running[i].trace]));
  }
}
