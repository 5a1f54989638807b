import {
  type Block,
  type FileFacts,
  SIGNAL_LIMITS,
  type SignalFormat,
  type Sink,
  type Source,
  TonosError,
  type Warning,
} from '@tonos/core';
import type { ByteReader } from './bytes/byte-reader.ts';
import type { ByteWriter } from './bytes/byte-writer.ts';
import type { DeliveryNotes } from './tags/delivery-notes.ts';

/** A file that can't be read as sound. The message names the file, what was found and what to do. */
export class UnreadableFileError extends TonosError {}

/** A file that is read as sound. */
export interface AudioFile extends Source {
  readonly facts: FileFacts;
  /** Frames by the header; undefined where it does not say. */
  readonly frames: number | undefined;
  /** What was found damaged or missing; complete once the blocks have been read. */
  readonly damage: readonly Warning[];
  /** Samples of any stretch, fewer at the end; only where the file can be read at random, or decoded from anywhere. */
  readFrames?(from: number, frames: number): Promise<Block>;
  close(): Promise<void>;
}

/** A format that is read: how its bytes begin, and how to open them. */
export interface InputFormat {
  readonly name: string;
  recognises(head: Uint8Array): boolean;
  open(bytes: ByteReader, file: string): Promise<AudioFile>;
}

/** Writes a signal as a file. `finish` mends the headers. */
export interface AudioWriter extends Sink {
  finish(): Promise<void>;
}

export interface WriterOptions {
  format: SignalFormat;
  /** 16, 24, or 32 for float. */
  bitDepth?: 16 | 24 | 32;
  bitrateKbps?: number;
  notes?: DeliveryNotes;
}

export type OpenWriter = (bytes: ByteWriter, options: WriterOptions) => Promise<AudioWriter>;

/** Rejects what the engine does not take. */
export function checkRange({ sampleRateHz, channels }: SignalFormat, file: string): void {
  const { minRateHz, maxRateHz, maxChannels } = SIGNAL_LIMITS;
  if (channels < 1 || channels > maxChannels) {
    throw new UnreadableFileError(
      'unsupported',
      `${file} has ${channels} channels; Tonos reads 1 to ${maxChannels}. Split or mix it down and try again.`,
      { file, channels },
    );
  }
  if (sampleRateHz < minRateHz || sampleRateHz > maxRateHz) {
    throw new UnreadableFileError(
      'unsupported',
      `${file} has a sample rate of ${sampleRateHz} Hz; Tonos reads ${minRateHz} to ${maxRateHz} Hz. Export it again at one of these.`,
      { file, sampleRateHz },
    );
  }
}
