import type { Block, CancelSignal, FileFacts, Speaker, Warning } from '@tonos/core';
import type { ByteReader } from '../bytes/byte-reader.ts';
import { type AudioFile, UnreadableFileError } from '../format.ts';
import { deinterleave, type SampleLayout } from './samples.ts';

const BLOCK_FRAMES = 16384;
/** Blocks that are read from the disk in one go. */
const BLOCKS_A_READ = 8;

export interface PcmStretch {
  layout: SampleLayout;
  dataStart: number;
  /** Frames that the header promises; undefined: to the end of the file. */
  statedFrames: number | undefined;
  speakers: readonly Speaker[];
}

/** Samples that lie in a file one after the other, whatever the header around them. */
export function pcmFile(
  bytes: ByteReader,
  file: string,
  facts: Omit<FileFacts, 'bitrateKbps'>,
  { layout, dataStart, statedFrames, speakers }: PcmStretch,
): AudioFile {
  const { sampleRateHz, channels } = facts;
  const frameBytes = layout.bytes * channels;
  const there = Math.floor((bytes.size - dataStart) / frameBytes);
  const frames = Math.min(statedFrames ?? there, there);
  const damage: Warning[] = [];
  if (statedFrames !== undefined && statedFrames > there) {
    damage.push({ code: 'truncated', message: `The file ends early: ${frames} of ${statedFrames} frames are there.` });
  }
  if (frames <= 0)
    throw new UnreadableFileError('empty', `${file} holds no samples. Record or export it again.`, { file });
  const readFrames = async (from: number, count: number): Promise<Block> => {
    const kept = Math.max(0, Math.min(count, frames - from));
    return deinterleave(await bytes.read(dataStart + from * frameBytes, kept * frameBytes), layout, channels);
  };
  async function* blocks({ signal }: { signal?: CancelSignal } = {}): AsyncGenerator<Block> {
    // a block is its reader's until the next one is asked for: one room serves all
    const room = new Uint8Array(BLOCKS_A_READ * BLOCK_FRAMES * frameBytes);
    const block = Array.from({ length: channels }, () => new Float32Array(BLOCK_FRAMES));
    for (let frame = 0; frame < frames; frame += BLOCKS_A_READ * BLOCK_FRAMES) {
      const count = Math.min(BLOCKS_A_READ * BLOCK_FRAMES, frames - frame);
      const read = await bytes.read(dataStart + frame * frameBytes, count * frameBytes, room);
      for (let at = 0; at < read.length; at += BLOCK_FRAMES * frameBytes) {
        signal?.throwIfAborted();
        const part = read.subarray(at, Math.min(read.length, at + BLOCK_FRAMES * frameBytes));
        yield deinterleave(part, layout, channels, block);
      }
    }
  }
  return {
    format: { sampleRateHz, channels, speakers },
    facts: { ...facts, bitrateKbps: (sampleRateHz * frameBytes * 8) / 1000 },
    frames,
    damage,
    blocks,
    readFrames,
    close: () => bytes.close(),
  };
}
