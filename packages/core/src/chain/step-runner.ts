import { DelayLine } from '../dsp/delay-line.ts';
import { InLine } from '../dsp/in-line.ts';
import { silenceBadSamples } from '../signal/bad-samples.ts';
import { changeLayout } from '../signal/change-layout.ts';
import { type Block, copyBlock, framesOf, type SignalFormat } from '../signal/signal.ts';
import type { Findings, KnownOfRecording, Processor } from '../steps/step.ts';
import type { ConfiguredStep } from './chain-file.ts';
import { ScopeFade } from './scope.ts';

/** Whether nothing of a step is wanted: all of it mixed away, or a scope that names no mark of the recording. */
export const isIdle = ({ mix, scope }: Pick<ConfiguredStep, 'mix' | 'scope'>, known: KnownOfRecording): boolean =>
  mix === 0 || (scope !== undefined && new ScopeFade(scope, known, 1).isNowhere);

/** The format of what steps make of a signal. */
export const formatAfter = (
  steps: readonly ConfiguredStep[],
  format: SignalFormat,
  findings: Readonly<Record<string, Findings>>,
  known: KnownOfRecording = {},
): SignalFormat => {
  let { channels, speakers } = format;
  for (const step of steps) {
    if (!step.definition.outputChannels || isIdle(step, known)) continue;
    const after = step.definition.outputChannels(step.settings, channels, findings[step.id] ?? {});
    if (after === channels) continue;
    channels = after;
    speakers = undefined;
  }
  return { sampleRateHz: format.sampleRateHz, channels, ...(speakers && { speakers }) };
};

export interface RunningStepPlace {
  known?: KnownOfRecording;
  /** By how much the steps before it delay the signal. */
  lateFrames?: number;
  /** Frame of the recording that the first step hears first. */
  firstFrame?: number;
  /** Where in the recording the findings' own time begins. */
  findingsFrame?: number;
  /** Whether settings and mix may change while it runs: then the dry signal is always kept at hand. */
  live?: boolean;
}

const MIX_SECONDS = 0.02;

/**
 * One running step: it is given none and lets out none of the samples that `silenceBadSamples` knows as bad, and `mix` blends in the dry signal, delayed alike. Where a step
 * changes the layout, the dry signal is laid out alike; where nothing of it is wanted, the layout stays.
 */
export class RunningStep {
  readonly latencyFrames: number;
  /** How long it sounds on behind its input. */
  readonly tailFrames: number;
  private readonly processor: Processor;
  private readonly dry: DelayLine;
  private readonly fade: ScopeFade | undefined;
  /** Frame of the recording that the next output sample is. */
  private frame: number;
  private mix: number;
  private readonly mixStep: number;
  private readonly live: boolean;
  private readonly idle: boolean;

  constructor(
    private step: ConfiguredStep,
    private readonly format: SignalFormat,
    findings: Findings,
    { known = {}, lateFrames = 0, firstFrame = 0, findingsFrame = 0, live = false }: RunningStepPlace = {},
  ) {
    this.processor = step.definition.start(step.settings, format, findings, firstFrame - findingsFrame - lateFrames);
    this.live = live;
    this.idle = isIdle(step, known);
    this.mix = step.mix;
    this.mixStep = 1 / (MIX_SECONDS * format.sampleRateHz);
    this.latencyFrames = this.processor.latencyFrames;
    this.tailFrames = this.idle ? 0 : (this.processor.tailFrames ?? 0);
    this.dry = new DelayLine(format.channels, this.latencyFrames);
    this.fade = step.scope && new ScopeFade(step.scope, known, format.sampleRateHz);
    this.frame = firstFrame - lateFrames - this.latencyFrames;
  }

  /** The largest of each trace since it was last asked. */
  takeTrace(): Readonly<Record<string, number>> {
    return this.processor.takeTrace();
  }

  /** Changes the block in place, or answers one of another layout. */
  process(block: Block): Block {
    if (this.processor.layOut) return this.layOut(block);
    if (!this.live && this.mix === 1 && !this.fade) {
      this.processor.process(block);
      silenceBadSamples(block);
      return block;
    }
    const dry = copyBlock(block);
    this.dry.process(dry);
    this.processor.process(block);
    silenceBadSamples(block);
    this.mixIn(block, dry);
    this.keepToScope(block, dry);
    return block;
  }

  private layOut(block: Block): Block {
    if (this.idle) return block;
    const dry = this.mix === 1 && this.step.mix === 1 && !this.fade ? undefined : copyBlock(block);
    const wet = this.processor.layOut!(block);
    if (!dry) return wet;
    const alike = changeLayout(dry, this.format, wet.length);
    this.mixIn(wet, alike);
    this.keepToScope(wet, alike);
    return wet;
  }

  /** The dry signal as it lies beside the last output: what the step was given, delayed alike. */
  private mixIn(block: Block, dry: Block): void {
    const { mix: from } = this;
    const to = this.step.mix;
    if (from === 1 && to === 1) return;
    const step = from < to ? this.mixStep : -this.mixStep;
    const steps = Math.ceil(Math.abs(to - from) / this.mixStep);
    block.forEach((channel, c) => {
      for (let i = 0; i < channel.length; i++) {
        const mix = i < steps ? from + i * step : to;
        channel[i] = mix * channel[i] + (1 - mix) * dry[c][i];
      }
    });
    const frames = framesOf(block);
    this.mix = frames < steps ? from + frames * step : to;
  }

  /** Takes other settings and another mix without a click. The kind stays. */
  update(step: ConfiguredStep): void {
    this.step = step;
    this.processor.update(step.settings);
  }

  /** Outside its marks the dry signal passes unchanged; over their edges a linear fade, since what a step makes of a sound goes with it. */
  private keepToScope(block: Block, dry: Block): void {
    const frames = framesOf(block);
    const start = this.frame;
    this.frame += frames;
    if (!this.fade) return;
    if (this.fade.isOutside(start, start + frames)) {
      block.forEach((channel, c) => {
        channel.set(dry[c]);
      });
      return;
    }
    for (let i = 0; i < frames; i++) {
      const share = this.fade.at(start + i);
      if (share === 1) continue;
      for (let c = 0; c < block.length; c++)
        block[c][i] = share === 0 ? dry[c][i] : dry[c][i] + share * (block[c][i] - dry[c][i]);
    }
  }
}

/** Starts steps in series, each where those before it have brought the signal. */
export function startSteps(
  steps: readonly ConfiguredStep[],
  format: SignalFormat,
  findings: Readonly<Record<string, Findings>>,
  place: Omit<RunningStepPlace, 'lateFrames'>,
): {
  running: RunningStep[];
  /** By how much the signal is late after each step. */
  lateAfter: number[];
} {
  let lateFrames = 0;
  const lateAfter: number[] = [];
  const running = steps.map((step, i) => {
    const own = formatAfter(steps.slice(0, i), format, findings, place.known);
    const one = new RunningStep(step, own, findings[step.id] ?? {}, { ...place, lateFrames });
    lateFrames += one.latencyFrames;
    lateAfter.push(lateFrames);
    return one;
  });
  return { running, lateAfter };
}

const FLUSH_FRAMES = 4096;

/** Hears what a step makes, in line with the source: without latency, and as long. The block is only lent. */
export type HeardAfter = (id: string, block: Block) => void;

/** Steps in series. Their latency is taken off at the start and let out at the end: output is as long as input, and what sounds on behind it. */
export class RunningSteps {
  private readonly steps: RunningStep[];
  private readonly channels: number;
  private readonly output: InLine;
  /** After each step, where somebody hears it. */
  private readonly between: InLine[];
  private heardFrames = 0;
  private isAtItsEnd = false;
  /** Largest of each step's traces so far, by step id. */
  readonly deepest: Record<string, Record<string, number>> = {};

  constructor(
    private readonly configured: readonly ConfiguredStep[],
    format: SignalFormat,
    findings: Readonly<Record<string, Findings>>,
    known: KnownOfRecording = {},
    private readonly heard?: HeardAfter,
  ) {
    const { running, lateAfter } = startSteps(configured, format, findings, { known });
    this.steps = running;
    this.between = heard ? lateAfter.map((frames) => new InLine(frames)) : [];
    this.channels = format.channels;
    this.output = new InLine(lateAfter.at(-1) ?? 0);
  }

  /** Changes the block in place, which holds no bad samples, and returns the part of it that is output by now. */
  process(block: Block): Block {
    this.heardFrames += framesOf(block);
    for (const line of [this.output, ...this.between]) line.goesIn(framesOf(block));
    return this.advance(block);
  }

  /** What is still inside. */
  *flush(): Generator<Block> {
    this.soundOn();
    while (this.output.missing > 0) {
      const frames = Math.min(FLUSH_FRAMES, this.output.missing + this.output.late);
      const out = this.advance(Array.from({ length: this.channels }, () => new Float32Array(frames)));
      if (framesOf(out)) yield out;
    }
  }

  /** By how many frames each step makes the signal longer, which is so long when it comes to it. */
  get tails(): { id: string; afterFrames: number; tailFrames: number }[] {
    let afterFrames = this.heardFrames;
    return this.steps.map(({ tailFrames }, i) => {
      const tail = { id: this.configured[i].id, afterFrames, tailFrames };
      afterFrames += tailFrames;
      return tail;
    });
  }

  /** Nothing more comes in: what sounds on behind it is still to come out. */
  private soundOn(): void {
    if (this.isAtItsEnd) return;
    this.isAtItsEnd = true;
    let longer = 0;
    this.steps.forEach(({ tailFrames }, i) => {
      longer += tailFrames;
      this.between[i]?.goesIn(longer);
    });
    this.output.goesIn(longer);
  }

  private advance(input: Block): Block {
    let block = input;
    this.steps.forEach((step, i) => {
      block = step.process(block);
      const { id } = this.configured[i];
      this.note(id, step.takeTrace());
      this.heard?.(id, this.between[i].comesOut(block));
    });
    return this.output.comesOut(block);
  }

  private note(id: string, trace: Readonly<Record<string, number>>): void {
    for (const name in trace) {
      this.deepest[id] ??= {};
      this.deepest[id][name] = Math.max(this.deepest[id][name] ?? 0, trace[name]);
    }
  }
}
