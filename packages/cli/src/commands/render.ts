import { rm } from 'node:fs/promises';
import { basename, extname } from 'node:path';
import {
  type Alignment,
  type ConfiguredStep,
  figure,
  LEAST_CONFIDENCE,
  type Measurement,
  NO_CHOICE,
  TonosError,
} from '@tonos/core';
import { readNotes, writerOf } from '@tonos/formats';
import { alignFiles, measureFile, type RenderJob, type RenderResult } from '@tonos/render';
import { cutsByFile } from '../cuts-by-file.ts';
import { eachFile, type FileError, failed, isFailure } from '../each-file.ts';
import { exitStatus } from '../exit-status.ts';
import { freePath } from '../free-path.ts';
import { makeFolders } from '../make-folders.ts';
import { ChainTasks } from '../modules/in-thread.ts';
import type { Sent } from '../modules/tasks.ts';
import { loadChain, loadTarget } from '../named-files.ts';
import { writtenText } from '../output/figures.ts';
import { print } from '../output/print.ts';
import { stopSignal } from '../stop-signal.ts';
import { UsageError } from '../usage-error.ts';
import { VERSION } from '../version.ts';

export interface RenderOptions {
  chain: string;
  target?: string;
  adjust?: string;
  cuts?: string;
  /** Where modules are looked for. */
  modules?: string[];
  /** Takes the files as one linked set. */
  set?: boolean;
  out: string;
  json?: boolean;
}

type Rendered = Omit<RenderResult, 'overview' | 'copied' | 'rounds'> & {
  output: string;
  before: Measurement;
  seconds: number;
  /** Where it lies in its set. */
  alignment?: Alignment;
};

/** Runs a chain over each file and writes what comes out. @returns the exit status */
export async function render(files: readonly string[], options: RenderOptions): Promise<number> {
  const { found, chainOf } = await loadChain(options.chain, options);
  const tasks = new ChainTasks(found);
  const target = options.target === undefined ? undefined : await loadTarget(options.target);
  const cutsOf = await cutsByFile(options.cuts);
  if (options.set) checkSameTime(files.map((file) => chainOf(file).configured));
  const ending = target ? writerOf(target.output).ending : '.wav';
  // spools lie beside the outputs: there is room for those too
  const spoolFolder = await makeFolders(options.out);
  const signal = stopSignal();
  const taken = new Set<string>();
  const prepared = async (file: string) => {
    signal.throwIfAborted();
    const { measurement: before } = await measureFile(file, { name: file, signal });
    const outputPath = freePath(options.out, basename(file, extname(file)), ending, taken);
    const job = {
      sourcePath: file,
      name: file,
      // ranges that the file itself names; boxes and room tone by hand belong to the server
      byHand: { ...(await readNotes(file)), boxes: [], roomTone: NO_CHOICE, ...cutsOf(file) },
      notes: { software: `Tonos ${VERSION}`, title: basename(file, extname(file)) },
      steps: chainOf(file).steps,
      target,
      outputPath,
      spoolFolder,
      signal,
    };
    return { before, job };
  };
  const told = (
    { before, job }: Awaited<ReturnType<typeof prepared>>,
    { after, findings, verdict, limits, timeMap }: RenderResult,
    started: number,
  ): Rendered => ({
    output: job.outputPath,
    before,
    after,
    findings,
    verdict,
    limits,
    timeMap,
    seconds: (performance.now() - started) / 1000,
  });
  try {
    const results = options.set
      ? await asSet(files, prepared, told, { tasks, signal })
      : await eachFile(files, async (file) => {
          const started = performance.now();
          const own = await prepared(file);
          return told(own, await tasks.run('render', own.job), started);
        });
    print(results, options.json, writtenText);
    return exitStatus(results);
  } finally {
    tasks.close();
    await rm(spoolFolder, { recursive: true, force: true });
  }
}

interface Prepared {
  before: Measurement;
  job: Sent<RenderJob>;
}

/** The files as one linked set: where they lie is found first; one that does not belong to them, or can't be read, is left out. */
async function asSet<Own extends Prepared>(
  files: readonly string[],
  prepared: (file: string) => Promise<Own>,
  told: (own: Own, result: RenderResult, started: number) => Rendered,
  { tasks, signal }: { tasks: ChainTasks; signal: AbortSignal },
): Promise<(FileError | ({ file: string } & Rendered))[]> {
  const started = performance.now();
  const places = await alignFiles(
    files.map((path) => ({ path, name: path })),
    signal,
  );
  const own = await eachFile(files, async (file) => {
    const place = places[files.indexOf(file)];
    if (place.status === 'rejected') throw place.reason;
    if (place.value.confidence < LEAST_CONFIDENCE) throw notTogether(file, files[0], place.value);
    return { place: place.value, ...(await prepared(file)) };
  });
  const there = own.flatMap((one) => (isFailure(one) ? [] : [one]));
  const rendered = await tasks.run('render-set', {
    jobs: there.map(({ job: { signal: _, ...job }, place }) => ({ ...job, place })),
    signal,
  });
  return own.map((one) => {
    if (isFailure(one)) return one;
    const result = rendered[there.indexOf(one)];
    const { file, place: alignment } = one;
    if (result.status === 'rejected') return failed(file, result.reason);
    return { file, ...told(one as unknown as Own, result.value, started), alignment };
  });
}

const notTogether = (file: string, first: string, { confidence }: Alignment) =>
  new TonosError(
    'not-together',
    `${file} seems to have no sound in common with ${first} (confidence ${figure(confidence, 2)}): it is no part of the set. Leave it out, or render it by itself.`,
    { file },
  );

/** Steps that move moments must do the same to all members of a set. */
function checkSameTime(chains: readonly (readonly ConfiguredStep[])[]): void {
  const timing = (steps: readonly ConfiguredStep[]) =>
    JSON.stringify(steps.filter(({ definition }) => definition.retime).map(({ id, settings }) => [id, settings]));
  if (new Set(chains.map(timing)).size > 1)
    throw new UsageError(
      'The adjustments change steps that move time for single files of a set. These must be the same for all: adjust them for all files, or not at all.',
    );
}
