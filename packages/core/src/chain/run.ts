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
import type { AnyStep, Findings, KnownOfRecording } from '../steps/step.ts';
import type { ConfiguredStep } from './chain-file.ts';
import { type Pass, planPasses } from './plan.ts';
import { type Scope, ScopeFade } from './scope.ts';
import { formatAfter, type HeardAfter, RunningSteps } from './step-runner.ts';

/** Where a signal lies between passes, in float32. `discard` gives its space back. */
export interface Spool extends Source, Sink {
  discard(): Promise<void>;
}

export interface RunSurroundings {
  openSpool(format: SignalFormat): Promise<Spool>;
  signal?: CancelSignal;
  known?: KnownOfRecording;
  /** Hears what every step makes. */
  heard?: HeardAfter;
  /** Frames that went through a pass, out of frames x passes. */
  progress?: (frames: number, pass: number, passes: number) => void;
}

export interface StepReport {
  id: string;
  kind: string;
  findings: Findings;
  /** Of the kind's findings; those of before there were any have none. */
  findingsVersion?: number;
  /** The largest value of each trace, such as the deepest gain reduction in dB. */
  deepest: Readonly<Record<string, number>>;
}

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
  let spool: Spool | undefined;
  try {
    for (const [index, pass] of passes.entries()) {
      const from = pass.reads === 'input' ? source : spool!;
      const format = formatAfter(pass.applies, from.format, findings, surroundings.known);
      const next = pass.writes === 'spool' ? await surroundings.openSpool(format) : undefined;
      try {
        const target = pass.writes === 'output' ? await openSink(format) : next;
        const progress = (frames: number) => surroundings.progress?.(frames, index, passes.length);
        Object.assign(deepest, await runPass(pass, from, target, findings, { ...surroundings, progress }));
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
    findings: { ...findings[id], ...(scope && scopeNote(scope, surroundings.known ?? {})) },
    ...(definition.study && { findingsVersion: versionOf(definition) }),
    deepest: deepest[id] ?? {},
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
  pass: Pass<ConfiguredStep>,
  source: Source,
  sink: Sink | undefined,
  findings: Record<string, Findings>,
  {
    signal,
    known,
    heard,
    progress,
  }: Pick<RunSurroundings, 'signal' | 'known' | 'heard'> & { progress: (frames: number) => void },
): Promise<Record<string, Record<string, number>>> {
  const steps = new RunningSteps(pass.applies, source.format, findings, known, heard);
  const format = formatAfter(pass.applies, source.format, findings, known);
  const study = pass.studies?.definition.study?.(pass.studies.settings, format, known ?? {});
  const { scope, definition } = pass.studies ?? {};
  const within = scope && definition!.studiesScope ? new ScopeFade(scope, known ?? {}, format.sampleRateHz) : undefined;
  let heardFrames = 0;
  const hear = (out: Block) => {
    const parts = within ? within.inside(heardFrames, framesOf(out)) : [[0, framesOf(out)]];
    for (const [from, to] of parts) study?.hear(sliceBlock(out, from, to));
    heardFrames += framesOf(out);
  };
  for await (const block of source.blocks({ signal })) {
    signal?.throwIfAborted();
    const frames = framesOf(block);
    silenceBadSamples(block);
    const out = steps.process(block);
    hear(out);
    if (sink && framesOf(out)) await sink.write(out);
    progress(frames);
  }
  for (const out of steps.flush()) {
    hear(out);
    await sink?.write(out);
  }
  if (study) findings[pass.studies!.id] = study.conclude();
  return steps.deepest;
}
