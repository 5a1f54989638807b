import { randomUUID } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { setPriority } from 'node:os';
import { join } from 'node:path';
import { parentPort, workerData } from 'node:worker_threads';
import type { FileProblem } from '@tonos/contract';
import {
  boxSteps,
  checkModule,
  configureChain,
  isModuleKnown,
  knowModule,
  knownFindings,
  knownFrom,
  measureLedger,
  readModuleFile,
  type Source,
  sharedWatch,
  speechEdgesOf,
  TonosError,
  watchModules,
} from '@tonos/core';
import { type AudioFile, openAudio, type Picture, pictureFrom } from '@tonos/formats';
import {
  alignFiles,
  assemble,
  cutRecording,
  DiskSpool,
  findRemedy,
  ledgerOfProgramme,
  type RenderResult,
  renderFile,
  renderSet,
  SurveyReader,
  spectrogramOf,
  surveyAudio,
  takeBack,
  viewOf,
  writeOut,
} from '@tonos/render';
import { diskTrouble } from '../storage/disk-trouble.ts';
import type {
  AlignJob,
  AssembleJob,
  CheckModuleJob,
  FromWorker,
  GapsJob,
  Job,
  JobEnd,
  LedgerJob,
  LookJob,
  ModulePlace,
  Rendered,
  RenderJob,
  RenderSetJob,
  StretchJob,
  ToWorker,
  WorkerData,
} from './messages.ts';

/** A worker thread: one job at a time, from the message that brings it to the one that ends it. */

const port = parentPort!;
const PROGRESS_EVERY_MS = 250;
const ALIVE_EVERY_MS = 5000;
const BACKGROUND_NICENESS = 10;
/** A machine with much to do rests for longer than a short block lasts. */
const LEAST_MODULE_MS = 2000;
let current: AbortController | undefined;

// on Linux this is the thread's own priority: pages and meters stay quick while a batch runs
const { background, watch } = workerData as WorkerData;
watchModules(sharedWatch(watch, LEAST_MODULE_MS));
if (background && process.platform === 'linux') setPriority(0, BACKGROUND_NICENESS);

const say = (message: FromWorker) => port.postMessage(message);

function progressReporter() {
  let last = 0;
  return (share: number, stage = 'measuring') => {
    const now = performance.now();
    if (now - last < PROGRESS_EVERY_MS) return;
    last = now;
    say({ type: 'progress', share, stage });
  };
}

async function doJob(job: Job, signal: AbortSignal): Promise<JobEnd> {
  const progress = progressReporter();
  if (job.type === 'measure')
    return { type: 'measured', ...(await surveyAudio({ ...job, isWorkedOn: true, signal, progress })) };
  if (job.type === 'ledger') return account(job, signal);
  if (job.type === 'remedy')
    return { type: 'remedied', remedy: await findRemedy({ ...job, sourcePath: job.path, signal, progress }) };
  if (job.type === 'gaps') return gapsOf(job, signal);
  if (job.type === 'align') return align(job, signal);
  if (job.type === 'order-ledger')
    return { type: 'programme-accounted', ledger: await ledgerOfProgramme({ ...job, signal, progress }) };
  if (job.type === 'write-out') {
    const chain = configureChain(job.steps);
    const { timeMap, ...lies } = await writeOut({ ...job, chain, signal, progress });
    return { type: 'written-out', lies, timeMap };
  }
  if (job.type === 'take-back') {
    const { isRewritten, cameAtHz, ...lies } = await takeBack({ ...job, signal });
    return { type: 'taken-back', lies, isRewritten, cameAtHz };
  }
  if (job.type === 'check-module') return checkedModule(job);
  if (job.type === 'assemble') return assembled(job, signal, progress);
  if (job.type === 'render-set') return renderTogether(job, signal, progress);
  if (job.type === 'stretch') return readStretch(job);
  if (job.type !== 'render') return look(job);
  return rendered(await renderFile({ ...(await renderOf(job)), signal, progress }));
}

async function checkedModule({ path, name, sha256 }: CheckModuleJob): Promise<JobEnd> {
  const file = readModuleFile(await readFile(path), name);
  return { type: 'module-checked', manifest: file.manifest, checks: checkModule(file, sha256) };
}

/** Makes the modules of a job known to this thread, each once. */
async function learn(modules: readonly ModulePlace[]): Promise<void> {
  for (const { sha256, path, name, version } of modules) {
    if (isModuleKnown(sha256, true)) continue;
    const bytes = await readFile(path).catch(() => undefined);
    if (!bytes)
      throw new TonosError(
        'missing-module',
        `The module \u201c${name}\u201d ${version} is not in the library any more. Bring it in again.`,
      );
    knowModule({ sha256, ...readModuleFile(bytes, name) });
  }
}

async function assembled(
  job: AssembleJob,
  signal: AbortSignal,
  progress: (share: number, stage?: string) => void,
): Promise<JobEnd> {
  const { parts, chapters, ...result } = await assemble({ ...job, notes: await notesOf(job), signal, progress });
  return { ...rendered(result), parts, chapters };
}

const notesOf = async ({ notes, picturePath }: Pick<RenderJob, 'notes' | 'picturePath'>) => ({
  ...notes,
  ...(picturePath === undefined ? {} : { picture: await readPicture(picturePath) }),
});

async function renderOf({ path, steps, picturePath, earlier, ...rest }: Omit<RenderJob, 'type'>) {
  const chain = configureChain(steps);
  const notes = await notesOf({ notes: rest.notes, picturePath });
  return { ...rest, notes, sourcePath: path, chain, given: earlier && knownFindings(chain, earlier) };
}

const rendered = ({ after, overview, findings, verdict, limits, timeMap, copied }: RenderResult): Rendered => ({
  type: 'rendered',
  after,
  overview,
  findings,
  verdict: verdict!,
  limits,
  timeMap,
  copied,
});

async function renderTogether(
  { members }: RenderSetJob,
  signal: AbortSignal,
  progress: (share: number, stage?: string) => void,
): Promise<JobEnd> {
  const shares = members.map(() => 0);
  const jobs = await Promise.all(
    members.map(async ({ place, ...member }, i) => ({
      ...(await renderOf(member)),
      place,
      signal,
      progress: (share: number, stage: string) => {
        shares[i] = share;
        progress(shares.reduce((sum, one) => sum + one, 0) / shares.length, stage);
      },
    })),
  );
  const results = await renderSet(jobs);
  signal.throwIfAborted();
  return {
    type: 'set-rendered',
    ends: results.map((result, i) =>
      result.status === 'fulfilled'
        ? rendered(result.value)
        : { type: 'failed', error: problemOf(result.reason, members[i]) },
    ),
  };
}

async function gapsOf({ path, name }: GapsJob, signal: AbortSignal): Promise<JobEnd> {
  const audio = await openAudio(path, name);
  try {
    const { gaps, breaths } = await speechEdgesOf(audio, signal);
    return {
      type: 'gaps-found',
      gaps: { pauses: gaps.map(({ startSeconds, endSeconds }) => ({ startSeconds, endSeconds })), breaths },
    };
  } finally {
    await audio.close();
  }
}

async function align({ files }: AlignJob, signal: AbortSignal): Promise<JobEnd> {
  const places = await alignFiles(files, signal);
  return {
    type: 'aligned',
    places: places.map((place) => {
      if (place.status === 'rejected') throw place.reason;
      return place.value;
    }),
  };
}

async function readPicture(path: string): Promise<Picture> {
  const picture = pictureFrom(await readFile(path).catch(() => new Uint8Array()));
  if (!picture) throw new TonosError('no-cover', 'The cover of the title is gone from the store: give it again.');
  return picture;
}

/** The interim rows are told after so much work: enough to see figures come, seldom enough to cost nothing. */
const INTERIM_SECONDS = 60;

async function account(job: LedgerJob, signal: AbortSignal): Promise<JobEnd> {
  const audio = await openAudio(job.path, job.name);
  const { excerpt } = job;
  try {
    const { source, boxes, known } = await cutRecording(excerpt ? partOf(audio, excerpt) : audio, job.byHand, {
      name: job.name,
      signal,
    });
    const { reports, ...ledger } = await measureLedger(
      [...boxSteps(boxes, excerpt?.fromSeconds), ...configureChain(job.steps)],
      source,
      {
        openSpool: async (format) => new DiskSpool(format, join(job.spoolFolder, `${randomUUID()}.part`)),
        known: excerpt ? knownFrom(known, excerpt.fromSeconds) : known,
        signal,
        frames: job.frames,
        interimFrames: INTERIM_SECONDS * audio.format.sampleRateHz,
        interim: (known, share) => say({ type: 'progress', share, stage: 'ledger', ledger: known() }),
      },
    );
    return { type: 'accounted', ledger, reports };
  } finally {
    await audio.close();
  }
}

const PIECE_FRAMES = 16384;

/** A part of a file that can be read at random. */
function partOf(audio: AudioFile, { fromSeconds, toSeconds }: { fromSeconds: number; toSeconds: number }): Source {
  const frameAt = (seconds: number) => Math.round(seconds * audio.format.sampleRateHz);
  return {
    format: audio.format,
    async *blocks() {
      for (let at = frameAt(fromSeconds); at < frameAt(toSeconds); at += PIECE_FRAMES)
        yield await audio.readFrames!(at, Math.min(PIECE_FRAMES, frameAt(toSeconds) - at));
    },
  };
}

async function readStretch({ path, name, from, frames }: StretchJob): Promise<JobEnd> {
  const audio = await openAudio(path, name);
  try {
    return { type: 'stretch-read', block: await audio.readFrames!(from, frames) };
  } finally {
    await audio.close();
  }
}

async function look({ type, surveyPath, path, name, range, rows }: LookJob): Promise<JobEnd> {
  const survey = await SurveyReader.open(surveyPath);
  const audio = await openAudio(path, name);
  try {
    const readFrames = (from: number, frames: number) => audio.readFrames!(from, frames);
    if (type === 'view') return { type: 'viewed', view: await viewOf(survey, readFrames, range) };
    return { type: 'spectra', values: await spectrogramOf(survey.header, readFrames, range, rows) };
  } finally {
    await audio.close();
    await survey.close();
  }
}

function problemOf(error: unknown, job: Pick<Job, 'name'>): FileProblem {
  if (error instanceof TonosError)
    return { ...error.details, code: error.code, message: nameTheFile(error.message, job) };
  const disk = diskTrouble(error);
  if (disk) return { code: disk.code, message: `${job.name}: ${disk.message}` };
  return {
    code: 'internal',
    message: `${job.name} could not be processed: ${(error as Error)?.message ?? String(error)}. Try it again; if it stays, the file may be damaged.`,
  };
}

/** Messages from the core know the sound, not the file. */
const nameTheFile = (message: string, { name }: Pick<Job, 'name'>) =>
  message.includes(name) ? message : `${name}: ${message}`;

port.on('message', async (message: ToWorker) => {
  if (message.type === 'cancel') return current?.abort();
  const controller = new AbortController();
  current = controller;
  const alive = setInterval(() => say({ type: 'alive' }), ALIVE_EVERY_MS);
  try {
    await learn(message.modules);
    say(await doJob(message.job, controller.signal));
  } catch (error) {
    say(controller.signal.aborted ? { type: 'cancelled' } : { type: 'failed', error: problemOf(error, message.job) });
  } finally {
    clearInterval(alive);
    current = undefined;
  }
});
