import type { FileProblem, RecordingGaps } from '@tonos/contract';
import type {
  Alignment,
  Block,
  ChainStep,
  EarlierRun,
  Ledger,
  LimitResult,
  Measurement,
  ModuleCheck,
  ModuleManifest,
  ModuleName,
  OrderFile,
  Placement,
  StepAdjustment,
  StepReport,
  TargetFile,
  TimeMap,
  Verdict,
} from '@tonos/core';
import type { DeliveryNotes, FileNotes } from '@tonos/formats';
import type {
  AssembledPart,
  Exchanged,
  MarkedByHand,
  PartFile,
  ProgrammeLedger,
  Remedy,
  View,
  ViewRange,
} from '@tonos/render';

/** The wire between the server and a worker thread: one tagged union a direction. */

export interface MeasureJob {
  type: 'measure';
  path: string;
  /** How messages call the file. */
  name: string;
  /** Where the survey goes, and a copy that can be read at random where one is needed. */
  surveyPath: string;
  copyPath: string;
}

export interface RenderJob {
  type: 'render';
  path: string;
  name: string;
  steps: readonly ChainStep[];
  target: TargetFile;
  /** What was found in it before, where that still holds. */
  earlier?: EarlierRun;
  /** What people marked in the recording. */
  byHand: MarkedByHand;
  notes: DeliveryNotes;
  /** The file of the picture that goes into the notes. */
  picturePath?: string;
  outputPath: string;
  spoolFolder: string;
  pictures: { surveyPath: string; copyPath: string };
}

/** Looking at a stretch of a recording that has been surveyed. */
export interface LookJob {
  type: 'view' | 'spectrogram';
  surveyPath: string;
  /** A file that can be read at random. */
  path: string;
  name: string;
  range: ViewRange;
  /** Of the spectrogram. */
  rows: number;
}

/** Reading a stretch of a file that is decoded for it. */
export interface StretchJob {
  type: 'stretch';
  path: string;
  name: string;
  from: number;
  frames: number;
}

/** What a chain does to the levels, step by step. */
export interface LedgerJob {
  type: 'ledger';
  path: string;
  name: string;
  steps: readonly ChainStep[];
  byHand: MarkedByHand;
  /** Only this part of it; the file can be read at random then. */
  excerpt?: { fromSeconds: number; toSeconds: number };
  /** Of the source, for the share that is done. */
  frames: number;
  spoolFolder: string;
}

/** What would bring a recording inside its target: found by rendering the whole. */
export interface RemedyJob {
  type: 'remedy';
  path: string;
  name: string;
  steps: readonly ChainStep[];
  adjustments: readonly StepAdjustment[];
  target: TargetFile;
  byHand: MarkedByHand;
  folder: string;
}

/** Recordings of one session, rendered together. */
export interface RenderSetJob {
  type: 'render-set';
  /** How messages call them. */
  name: string;
  members: (Omit<RenderJob, 'type'> & { place: Placement })[];
}

/** Where recordings of one session lie on the time of the first. */
export interface AlignJob {
  type: 'align';
  name: string;
  files: { path: string; name: string }[];
}

/** Where nobody speaks. */
export interface GapsJob {
  type: 'gaps';
  path: string;
  name: string;
}

/** Sound that goes out to another program. */
export interface WriteOutJob {
  type: 'write-out';
  path: string;
  name: string;
  steps: readonly ChainStep[];
  byHand: MarkedByHand;
  outputPath: string;
  spoolFolder: string;
}

/** Sound that came back from one. */
export interface TakeBackJob {
  type: 'take-back';
  path: string;
  name: string;
  /** To which it is brought. */
  rateHz?: number;
  outputPath: string;
}

/** Whether a module keeps the step contract. */
export interface CheckModuleJob {
  type: 'check-module';
  path: string;
  name: string;
  sha256: string;
}

/** A programme, put together by a running order. */
export interface AssembleJob extends Omit<RenderJob, 'type' | 'path' | 'steps' | 'earlier' | 'byHand'> {
  type: 'assemble';
  /** With its chains as files. */
  order: OrderFile;
  /** By part. */
  files: Readonly<Record<string, PartFile>>;
  /** The part by which the programme is told. */
  of: string;
}

/** What a running order does to the levels. */
export interface OrderLedgerJob {
  type: 'order-ledger';
  name: string;
  /** With its chains as files. */
  order: OrderFile;
  /** By part. */
  files: Readonly<Record<string, PartFile>>;
  target: TargetFile | undefined;
  spoolFolder: string;
}

export type Job =
  | CheckModuleJob
  | WriteOutJob
  | TakeBackJob
  | OrderLedgerJob
  | AssembleJob
  | GapsJob
  | MeasureJob
  | RenderJob
  | RenderSetJob
  | AlignJob
  | LookJob
  | StretchJob
  | LedgerJob
  | RemedyJob;

/** The modules that a job's steps name, and where they lie. */
export type ModulePlace = ModuleName & { path: string };

export type ToWorker = { type: 'job'; job: Job; modules: readonly ModulePlace[] } | { type: 'cancel' };

/** What a thread is started with. */
export interface WorkerData {
  /** Whether it gives way to all others. */
  background?: boolean;
  /** Shared: what its modules enter and leave. */
  watch: Int32Array;
}

export interface Measured {
  type: 'measured';
  measurement: Measurement;
  overview: [number, number][];
  notes: FileNotes;
  /** Whether a copy was written. */
  copied: boolean;
}

export interface Rendered {
  type: 'rendered';
  after: Measurement;
  overview: [number, number][];
  findings: StepReport[];
  timeMap: TimeMap;
  verdict: Verdict;
  limits: LimitResult[];
  copied: boolean;
  /** Of a programme that was put together. */
  parts?: AssembledPart[];
  chapters?: { title: string; startSeconds: number }[];
}

export type JobEnd =
  | Measured
  | Rendered
  | { type: 'set-rendered'; ends: (Rendered | { type: 'failed'; error: FileProblem })[] }
  | { type: 'gaps-found'; gaps: RecordingGaps }
  | { type: 'aligned'; places: Alignment[] }
  | { type: 'viewed'; view: View }
  | { type: 'spectra'; values: Uint8Array }
  | { type: 'stretch-read'; block: Block }
  | { type: 'remedied'; remedy: Remedy }
  | { type: 'accounted'; ledger: Ledger; reports: StepReport[] }
  | { type: 'programme-accounted'; ledger: ProgrammeLedger }
  | { type: 'written-out'; lies: Exchanged; timeMap: TimeMap }
  | { type: 'taken-back'; lies: Exchanged; isRewritten: boolean; cameAtHz: number }
  | { type: 'module-checked'; manifest: ModuleManifest; checks: ModuleCheck[] }
  | { type: 'failed'; error: FileProblem }
  | { type: 'cancelled' };

export type FromWorker =
  | { type: 'alive' }
  | { type: 'progress'; share: number; stage: string; ledger?: Ledger }
  | JobEnd;
