import { silenceBadSamples } from '../signal/bad-samples.ts';
import {
  type Block,
  type CancelSignal,
  framesOf,
  type SignalFormat,
  type Sink,
  type Source,
  sliceBlock,
} from '../signal/signal.ts';
import { CUSTOM } from '../steps/custom/named-module.ts';
import type { AnyStep, Findings, KnownOfRecording } from '../steps/step.ts';
import { composeAll, type TimeMap } from '../time/time-map.ts';
import type { ConfiguredStep } from './chain-file.ts';
import { Pipeline } from './pipeline.ts';
import { type Pass, planPasses } from './plan.ts';
import { type Scope, ScopeFade } from './scope.ts';
import type { HeardAfter } from './step-runner.ts';

/** Where a signal lies between passes, in float32. `discard` gives its space back. */
export interface Spool extends Source, Sink {
  discard(): Promise<void>;
}

/** @param key the same for all; @param combine what each has for what all said */
export type Agree = <T>(key: string, value: T, combine: (all: readonly T[]) => readonly T[]) => Promise<T>;

export interface RunSurroundings {
  openSpool(format: SignalFormat): Promise<Spool>;
  signal?: CancelSignal;
  known?: KnownOfRecording;
  /** Hears what every step makes. */
  heard?: HeardAfter;
  /** Of a recording that is one of several: what they come to together, where that is for all of them to say. */
  agree?: Agree;
  /** Frames that went through a pass, out of frames x passes. */
  progress?: (frames: number, pass: number, passes: number) => void;
}

export interface StepReport {
  id: string;
  kind: string;
  /** Of a module's step: its name. */
  title?: string;
  findings: Findings;
  /** Of the kind's findings; those of before there were any have none. */
  findingsVersion?: number;
  /** The largest value of each trace, such as the deepest gain reduction in dB. */
  deepest: Readonly<Record<string, number>>;
  /** Where it brought the moments of what came to it, if anywhere. */
  timeMap?: TimeMap;
}

/** Where a chain brings the moments of a source. @param seconds the source's length */
export const chainMap = (reports: readonly StepReport[], seconds: number): TimeMap =>
  composeAll(
    reports.flatMap(({ timeMap }) => (timeMap ? [timeMap] : [])),
    seconds,
  );

/**
 * Runs a chain over a source into a sink, in constant memory. Findings given for a step spare it its study.
 * @param openSink called once, with the format of what comes: it may hang on what steps find
 */
export async function runChain(
  chain: readonly ConfiguredStep[],
  source: Source,
  openSink: (format: SignalFormat) => Sink | Promise<Sink>,
  surroundings: RunSurroundings,
  given: Readonly<Record<string, Findings>> = {},
): Promise<StepReport[]> {
  const passes = planPasses(chain.map((step) => (given[step.id] ? withoutStudy(step) : step)));
  const findings: Record<string, Findings> = { ...given };
  const deepest: Record<string, Record<string, number>> = {};
  const maps: Record<string, TimeMap> = {};
  let known = surroundings.known ?? {};
  let spool: Spool | undefined;
  try {
    for (const [index, pass] of passes.entries()) {
      const from = pass.reads === 'input' ? source : spool!;
      const { signal, heard } = surroundings;
      const pipeline = await Pipeline.open(pass.applies, from, { findings, known, heard, signal });
      const { format } = pipeline;
      const next = pass.writes === 'spool' ? await surroundings.openSpool(format) : undefined;
      try {
        const target = pass.writes === 'output' ? await openSink(format) : next;
        const progress = (frames: number) => surroundings.progress?.(frames, index, passes.length);
        await runPass(pass, pipeline, from, target, findings, { signal, progress, agree: surroundings.agree });
        Object.assign(deepest, pipeline.deepest);
        Object.assign(maps, pipeline.maps);
        known = pipeline.known;
      } catch (error) {
        await next?.discard();
        throw error;
      }
      if (next) {
        await spool?.discard();
        spool = next;
      }
    }
  } finally {
    await spool?.discard();
  }
  return chain.map(({ id, definition, scope }) => ({
    id,
    kind: definition.kind,
    ...(definition.kind === CUSTOM && { title: definition.title }),
    findings: { ...findings[id], ...(scope && scopeNote(scope, surroundings.known ?? {})) },
    ...(definition.study && { findingsVersion: versionOf(definition) }),
    deepest: deepest[id] ?? {},
    ...(maps[id] && { timeMap: maps[id] }),
  }));
}

/** Of what a kind's study finds. */
export const versionOf = ({ findingsVersion = 1 }: Pick<AnyStep, 'findingsVersion'>): number => findingsVersion;

/** A scope that names no mark of this recording leaves the step without work: that is said. */
const scopeNote = (scope: Scope, known: KnownOfRecording): Findings | undefined =>
  new ScopeFade(scope, known, 1).isNowhere
    ? { note: `This recording has no range called ${scope.marks.join(' or ')}; the step did nothing.` }
    : undefined;

const withoutStudy = (step: ConfiguredStep): ConfiguredStep => ({
  ...step,
  definition: { ...step.definition, study: undefined },
});

async function runPass(
  { studies }: Pass<ConfiguredStep>,
  pipeline: Pipeline,
  source: Source,
  sink: Sink | undefined,
  findings: Record<string, Findings>,
  { signal, progress, agree }: Pick<RunSurroundings, 'signal' | 'agree'> & { progress: (frames: number) => void },
): Promise<void> {
  const { format, known } = pipeline;
  const study = studies?.definition.study?.(studies.settings, format, known);
  const { scope, definition } = studies ?? {};
  const within = scope && definition!.studiesScope ? new ScopeFade(scope, known, format.sampleRateHz) : undefined;
  let heardFrames = 0;
  const take = async (blocks: Iterable<Block>) => {
    for (const out of blocks) {
      const frames = framesOf(out);
      if (!frames) continue;
      const parts = within ? within.inside(heardFrames, frames) : [[0, frames]];
      for (const [from, to] of parts) study?.hear(sliceBlock(out, from, to));
      heardFrames += frames;
      await sink?.write(out);
    }
  };
  for await (const block of source.blocks({ signal })) {
    signal?.throwIfAborted();
    const frames = framesOf(block);
    silenceBadSamples(block);
    await take(pipeline.process(block));
    progress(frames);
  }
  await take(pipeline.flush());
  if (!study) return;
  const { id } = studies!;
  const found = study.conclude();
  const { together } = studies!.definition;
  findings[id] = together && agree ? await agree<Findings>(id, found, together) : found;
}
