import { type Block, type CancelSignal, cut, definedSpeakers, type FileFacts, type Warning } from '@tonos/core';
import type { ByteReader } from '../bytes/byte-reader.ts';
import { type AudioFile, UnreadableFileError } from '../format.ts';

interface Decoded {
  channelData: Float32Array[];
  samplesDecoded: number;
}

/** What decoders from packages have in common. */
export interface StreamDecoder {
  readonly ready: Promise<unknown>;
  decode(bytes: Uint8Array): Decoded | Promise<Decoded>;
  flush?(): Decoded | Promise<Decoded>;
  free(): void;
}

export interface CompressedStream {
  facts: FileFacts;
  /** Exact number of frames where the file tells it. */
  frames: number | undefined;
  /** What a decoder is given before the file's own bytes. */
  head?: Uint8Array;
  /** Where the coded bytes start. */
  start: number;
  /** What a decoder is given after the file's last byte. */
  tail?: Uint8Array;
  /** A decoder's package is loaded when a file needs it. */
  newDecoder(): Promise<StreamDecoder>;
  /** Which of the decoder's channels comes first, second ...; left out where they come in the order of WAVE files. */
  order?: readonly number[];
  /** Where any stretch can be decoded by itself. */
  readFrames?: AudioFile['readFrames'];
  /** What was found before decoding. */
  foundDamage?: readonly Warning[];
  /** Mends what a decoder gives, in place. */
  mend?(block: Float32Array[]): void;
}

/** Reads are so long that about this many frames come of them: of silence a few bytes hold hours. */
const FRAMES_A_READ = 131_072;
const READ_BYTES = { first: 4096, least: 256, most: 65_536 };
const BLOCK_FRAMES = 65_536;

/** The next read by what came of the last one. */
const nextReadBytes = (bytes: number, frames: number): number =>
  Math.max(
    READ_BYTES.least,
    Math.min(READ_BYTES.most, frames ? Math.ceil((bytes * FRAMES_A_READ) / frames) : 2 * bytes, 2 * bytes),
  );

/**
 * A file whose samples come out of a decoder. Damaged files lose frames silently in decoders, so what came out is counted
 * against what the file tells; a decoder that gives more is cut at the end.
 */
export function decodedFile(
  bytes: ByteReader,
  file: string,
  { facts, frames, head, start, tail, newDecoder, order, readFrames, foundDamage = [], mend }: CompressedStream,
): AudioFile {
  const { sampleRateHz, channels } = facts;
  const damage: Warning[] = [...foundDamage];
  /** Decoders throw anything at all on damaged bytes. */
  const decodeOrExplain = async <T>(decode: () => T | Promise<T>): Promise<T> => {
    try {
      return await decode();
    } catch (cause) {
      throw new UnreadableFileError(
        'damaged',
        `${file} could not be decoded: it is damaged. Copy or export it again.`,
        { file },
        { cause },
      );
    }
  };
  async function* blocks({ signal }: { signal?: CancelSignal } = {}): AsyncGenerator<Block> {
    const decoder = await newDecoder();
    await decoder.ready;
    let heard = 0;
    damage.splice(0, damage.length, ...foundDamage);
    const take = ({ channelData, samplesDecoded }: Decoded): Block | undefined => {
      const left = (frames ?? Number.POSITIVE_INFINITY) - heard;
      const count = Math.min(samplesDecoded, left);
      if (count <= 0 || channelData.length < channels) return undefined;
      heard += count;
      // mono comes back twice from some
      const block = Array.from({ length: channels }, (_, c) => channelData[order?.[c] ?? c].subarray(0, count));
      mend?.(block);
      return block;
    };
    try {
      if (head) await decodeOrExplain(() => decoder.decode(head));
      let readBytes = READ_BYTES.first;
      for (let at = start; at < bytes.size; ) {
        signal?.throwIfAborted();
        const coded = await bytes.read(at, readBytes);
        at += readBytes;
        const decoded = await decodeOrExplain(() => decoder.decode(coded));
        readBytes = nextReadBytes(readBytes, decoded.samplesDecoded);
        yield* cut(take(decoded) ?? [], BLOCK_FRAMES);
      }
      if (tail) yield* cut(take(await decodeOrExplain(() => decoder.decode(tail))) ?? [], BLOCK_FRAMES);
      if (decoder.flush) yield* cut(take(await decodeOrExplain(() => decoder.flush!())) ?? [], BLOCK_FRAMES);
    } finally {
      decoder.free();
    }
    if (frames !== undefined && heard < frames) {
      damage.push({
        code: 'damaged',
        message: `${frames - heard} of ${frames} frames are missing or could not be decoded.`,
      });
    }
  }
  const format = { sampleRateHz, channels, speakers: definedSpeakers(channels) };
  return { format, facts, frames, damage, blocks, readFrames, close: () => bytes.close() };
}
