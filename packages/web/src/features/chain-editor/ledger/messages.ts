import type { ChainStep, Findings, KnownOfRecording, Ledger, TimeSpan } from '@tonos/core';
import type { Track } from '../../../listening/engine/messages.ts';
import type { StepPicture } from '../../../steps/pictures/step-picture.ts';

/** The wire between the chain page and the worker that keeps its ledger: one tagged union a direction. */

/** What a chain does to a stretch of a recording. */
export interface LedgerAsked {
  track: Track;
  stretch: TimeSpan;
  /** Every step has its id. */
  steps: readonly (ChainStep & { id: string })[];
  /** In the recording's time. */
  known: KnownOfRecording;
  /** What steps found in the whole recording, by their `prefixKey`. */
  findings: Readonly<Record<string, Findings>>;
}

/** Ledgers of one page share a worker: each has its seat there. */
export type ToLedger =
  | { type: 'start'; watch: Int32Array }
  | ({ seat: string } & (
      | ({ type: 'measure'; asked: number; pictureOf: string | null } & LedgerAsked)
      | { type: 'leave' }
    ));

export type FromLedger = { seat: string } /** Rows that are known by now; `done` where no more come. */ & (
  | { type: 'rows'; asked: number; ledger: Ledger; findings: Record<string, Findings>; done: boolean }
  | { type: 'picture'; asked: number; picture: StepPicture }
  | { type: 'trouble'; asked: number; message: string }
);

/** What the result of steps hangs on: their kinds, settings, mixes and scopes, in order. Those that are off have no part in it. */
export const prefixKey = (steps: readonly ChainStep[]): string =>
  JSON.stringify(
    steps.filter(({ on }) => on).map(({ kind, mix, scope, settings }) => [kind, mix, scope ?? null, settings]),
  );
