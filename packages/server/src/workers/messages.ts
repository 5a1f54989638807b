import type { FileProblem } from '@tonos/contract';
import type { ChainStep, LimitResult, Measurement, StepReport, TargetFile, Verdict } from '@tonos/core';

/** The wire between the server and a worker thread: one tagged union a direction. */

export interface MeasureJob {
  type: 'measure';
  path: string;
  /** How messages call the file. */
  name: string;
}

export interface RenderJob {
  type: 'render';
  path: string;
  name: string;
  steps: readonly ChainStep[];
  target: TargetFile;
  outputPath: string;
  spoolFolder: string;
}

export type Job = MeasureJob | RenderJob;

export type ToWorker = { type: 'job'; job: Job } | { type: 'cancel' };

export interface Measured {
  type: 'measured';
  measurement: Measurement;
  overview: [number, number][];
}

export interface Rendered {
  type: 'rendered';
  after: Measurement;
  overview: [number, number][];
  findings: StepReport[];
  verdict: Verdict;
  limits: LimitResult[];
}

export type JobEnd = Measured | Rendered | { type: 'failed'; error: FileProblem } | { type: 'cancelled' };

export type FromWorker = { type: 'progress'; share: number; stage: string } | JobEnd;
