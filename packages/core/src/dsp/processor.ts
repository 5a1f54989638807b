import type { Block } from '../signal/signal.ts';

/** Changes sound. Its result does not depend on where blocks are cut. */
export interface Processor<Settings = unknown> {
  /** Frames by which output lags input; fixed for this processor's life. The runner drops them and lets the tail out. */
  readonly latencyFrames: number;
  /** So many frames sound on after the last one that came in: they are let out, and what is made is longer by them. */
  readonly tailFrames?: number;
  /** Changes the block in place. Samples are finite. */
  process(block: Block): void;
  /** Steps that change the layout answer a block of `outputChannels` instead of changing theirs in place. */
  layOut?(block: Block): Block;
  /** Takes new settings without a click. Equal settings change nothing. */
  update(settings: Settings): void;
  /** What the processor did, for pictures and the log, e.g. `gainReductionDb`: the largest since it was last asked. */
  takeTrace(): Readonly<Record<string, number>>;
}

const NOTHING: Readonly<Record<string, number>> = Object.freeze({});

/** Of processors that have nothing to tell. */
export const noTrace = (): Readonly<Record<string, number>> => NOTHING;
