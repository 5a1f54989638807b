import type { Block, CancelSignal, FileFacts, Warning } from '@tonos/core';
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
  readBytes: number;
  /** A decoder's package is loaded when a file needs it. */
  newDecoder(): Promise<StreamDecoder>;
  /** Which of the decoder's channels comes first, second ...; left out where they come in the order of WAVE files. */
  order?: readonly number[];
  /** What was found before decoding. */
  foundDamage?: readonly Warning[];
  /** Mends what a decoder gives, in place. */
  mend?(block: Float32Array[]): void;
}

/**
 * A file whose samples come out of a decoder. Damaged files lose frames silently in decoders, so what came out is counted
 * against what the file tells; a decoder that gives more is cut at the end.
 */
export function decodedFile(
  bytes: ByteReader,
  file: string,
  { facts, frames, head, start, tail, readBytes, newDecoder, order, foundDamage = [], mend }: CompressedStream,
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
      for (let at = start; at < bytes.size; at += readBytes) {
        signal?.throwIfAborted();
        const coded = await bytes.read(at, readBytes);
        const block = take(await decodeOrExplain(() => decoder.decode(coded)));
        if (block) yield block;
      }
      const last = tail && take(await decodeOrExplain(() => decoder.decode(tail)));
      if (last) yield last;
      const rest = decoder.flush && take(await decodeOrExplain(() => decoder.flush!()));
      if (rest) yield rest;
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
  return { format: { sampleRateHz, channels }, facts, frames, damage, blocks, close: () => bytes.close() };
}
