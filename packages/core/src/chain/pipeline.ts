import { type Block, framesOf, type SignalFormat, type Source } from '../signal/signal.ts';
import { mapKnown } from '../steps/known.ts';
import type { Findings, KnownOfRecording, Retimer } from '../steps/step.ts';
import { identityMap, type TimeMap } from '../time/time-map.ts';
import type { ConfiguredStep } from './chain-file.ts';
import { formatAfter, type HeardAfter, isIdle, RunningSteps } from './step-runner.ts';

/** Something that a signal streams through. */
interface Stage {
  process(block: Block): Iterable<Block>;
  flush(): Iterable<Block>;
}

export interface PipelineNeeds {
  findings: Readonly<Record<string, Findings>>;
  /** In the time of what comes in. */
  known: KnownOfRecording;
  heard?: HeardAfter;
  signal?: { aborted: boolean; throwIfAborted(): void };
}

/** The steps of one pass: those that keep time run in series, block for block; between them those that move moments. */
export class Pipeline {
  private constructor(
    private readonly stages: readonly Stage[],
    readonly format: SignalFormat,
    /** As what comes out has it. */
    readonly known: KnownOfRecording,
    private readonly timed: readonly { id: string; map: TimeMap }[],
    private readonly series: readonly RunningSteps[],
  ) {}

  /** @param source what comes in: the first step may read it beforehand, if it moves moments */
  static async open(
    steps: readonly ConfiguredStep[],
    source: Source,
    { findings, heard, signal, ...needs }: PipelineNeeds,
  ): Promise<Pipeline> {
    let { known } = needs;
    let { format } = source;
    const stages: Stage[] = [];
    const timed: { id: string; map: TimeMap }[] = [];
    const series: RunningSteps[] = [];
    let waiting: ConfiguredStep[] = [];
    const close = () => {
      if (!waiting.length) return;
      const running = new RunningSteps(waiting, format, findings, known, heard);
      series.push(running);
      stages.push(inSeries(running));
      format = formatAfter(waiting, format, findings, known);
      waiting = [];
    };
    for (const step of steps) {
      const { id, definition, settings, scope } = step;
      if (!definition.retime || isIdle(step, known)) {
        waiting.push(step);
        continue;
      }
      close();
      const retimer: Retimer = await definition.retime(settings, format, findings[id] ?? {}, {
        source,
        signal,
        ...(scope && { within: (known.marks ?? []).filter(({ name }) => scope.marks.includes(name)) }),
      });
      stages.push(heard ? heardStage(retimer, (block) => heard(id, block)) : retimer);
      timed.push({ id, map: retimer.map });
      known = mapKnown(known, retimer.map);
    }
    close();
    return new Pipeline(stages, format, known, timed, series);
  }

  /** The largest of each trace so far, by step id. */
  get deepest(): Record<string, Record<string, number>> {
    return Object.assign({}, ...this.series.map(({ deepest }) => deepest));
  }

  /** What the steps that moved moments, or made the signal longer, did to its time, by their ids: once all has come out. */
  get maps(): Record<string, TimeMap> {
    const { sampleRateHz } = this.format;
    const moved = this.timed.map(({ id, map }) => [id, map] as const);
    const longer = this.series
      .flatMap(({ tails }) => tails)
      .filter(({ tailFrames }) => tailFrames > 0)
      .map(({ id, afterFrames, tailFrames }) => {
        const end = afterFrames / sampleRateHz;
        return [id, [...identityMap(end), [end, (afterFrames + tailFrames) / sampleRateHz]] satisfies TimeMap] as const;
      });
    return Object.fromEntries([...moved, ...longer]);
  }

  process(block: Block): Iterable<Block> {
    return this.through(block, 0);
  }

  *flush(): Generator<Block> {
    for (const [i, stage] of this.stages.entries()) for (const out of stage.flush()) yield* this.through(out, i + 1);
  }

  private *through(block: Block, from: number): Generator<Block> {
    const stage = this.stages[from];
    if (!framesOf(block)) return;
    if (!stage) yield block;
    else for (const out of stage.process(block)) yield* this.through(out, from + 1);
  }
}

const inSeries = (running: RunningSteps): Stage => ({
  process: (block) => [running.process(block)],
  flush: () => running.flush(),
});

/** What a stage makes, heard by somebody else as well. */
const heardStage = (stage: Stage, hear: (block: Block) => void): Stage => {
  function* listen(blocks: Iterable<Block>): Generator<Block> {
    for (const block of blocks) {
      hear(block);
      yield block;
    }
  }
  return { process: (block) => listen(stage.process(block)), flush: () => listen(stage.flush()) };
};
