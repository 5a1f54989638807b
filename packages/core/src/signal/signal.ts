import { assumedSpeakers, type Speaker } from './speakers.ts';

/** The one shape of sound: planar float samples, full scale +-1. */

/** Samples of one stretch, one array per channel, all equally long. May be empty (0 frames). */
export type Block = readonly Float32Array[];

export interface SignalFormat {
  readonly sampleRateHz: number;
  readonly channels: number;
  /** Where each channel sounds; without it what their number lets assume (see `speakersOf`). */
  readonly speakers?: readonly Speaker[];
}

export const speakersOf = ({ channels, speakers }: Pick<SignalFormat, 'channels' | 'speakers'>): readonly Speaker[] =>
  speakers?.length === channels ? speakers : assumedSpeakers(channels);

/** Says that work is no longer wanted; an AbortSignal is one. */
export interface CancelSignal {
  readonly aborted: boolean;
  throwIfAborted(): void;
}

/** A signal that can be read again from its start. A block belongs to the reader until the next one is asked for. */
export interface Source {
  readonly format: SignalFormat;
  blocks(options?: { signal?: CancelSignal }): AsyncIterable<Block>;
}

/** Takes blocks in order. The block may be reused by the caller once the promise has resolved. */
export interface Sink {
  write(block: Block): void | Promise<void>;
}

/** The sample rates and channel counts that the engine takes. */
export const SIGNAL_LIMITS = { minRateHz: 8000, maxRateHz: 192000, maxChannels: 8 } as const;

export const framesOf = (block: Block): number => block[0]?.length ?? 0;

export const emptyBlock = (channels: number, frames: number): Block =>
  Array.from({ length: channels }, () => new Float32Array(frames));

export const copyBlock = (block: Block): Block => block.map((channel) => channel.slice());

/** The frames from `start` to `end` as views: nothing is copied. */
export const sliceBlock = (block: Block, start: number, end: number): Block =>
  block.map((channel) => channel.subarray(start, end));

export const millisecondsToFrames = (ms: number, sampleRateHz: number): number =>
  Math.round((ms * sampleRateHz) / 1000);
