import type { Block } from '@tonos/core';
import type { ByteReader } from '../bytes/byte-reader.ts';
import { type Mp3Header, parseMp3Header } from './frame-header.ts';

/** Frames of one bit rate, one after the other: where each lies can be worked out. */
export interface RegularFrames {
  /** Where the first one lies. */
  start: number;
  count: number;
  /** Of the first one; version, rate, channels and bit rate are those of all. */
  header: Mp3Header;
  /** Samples that a decoder gives before the first of the sound. */
  delay: number;
  /** Samples of the sound. */
  samples: number;
}

/** A frame takes at most so many bytes of those before it (ISO/IEC 11172-3, 2.4.1.7: `main_data_begin` has nine bits). */
const RESERVOIR_BYTES = 511;
/** Frames that are heard in those behind them: by the overlap of the transform, and by the filter bank. */
const HEARD_FRAMES = 2;
/** It is looked for so many frames further back than needed: more than two seconds of them. */
const DAMAGED_FRAMES = 100;
const HEADER_BYTES = 4;
const CRC_BYTES = 2;
/** Encoders differ in which frame they pad first. */
const PADDING_BYTES = 1;

/** A frame with its share of padding (ISO/IEC 11172-3, 2.4.3.1). */
const meanBytes = ({ mpeg1, bitrateKbps, sampleRateHz }: Mp3Header): number =>
  ((mpeg1 ? 144 : 72) * bitrateKbps * 1000) / sampleRateHz;

/** Whether so many frames of one bit rate take so many bytes. */
export const areRegular = (header: Mp3Header, count: number, bytes: number): boolean =>
  Math.abs(count * meanBytes(header) - bytes) <= PADDING_BYTES;

/** How many frames are decoded before one, for it to come out as it does in its place. */
function framesBefore(header: Mp3Header): number {
  const leastMusic = Math.max(1, Math.floor(meanBytes(header)) - HEADER_BYTES - CRC_BYTES - header.sideBytes);
  return Math.ceil(RESERVOIR_BYTES / leastMusic) + HEARD_FRAMES;
}

/** Where a frame begins, or one a little before it where it is damaged; undefined where all of these are. */
async function findFrame(
  bytes: ByteReader,
  { start, header }: RegularFrames,
  wanted: number,
): Promise<{ index: number; at: number } | undefined> {
  for (let index = wanted; index >= Math.max(0, wanted - DAMAGED_FRAMES); index--) {
    const about = start + Math.floor(index * meanBytes(header)) - PADDING_BYTES;
    const near = await bytes.read(about, HEADER_BYTES + 2 * PADDING_BYTES);
    for (const shift of [PADDING_BYTES, 2 * PADDING_BYTES, 0]) {
      const found = parseMp3Header(near, shift);
      if (found?.sampleRateHz === header.sampleRateHz && found.bitrateKbps === header.bitrateKbps)
        return { index, at: about + shift };
    }
  }
  return undefined;
}

/**
 * Samples of any stretch, as they come out where all is decoded from its start, but for rounding: a decoder that begins elsewhere adds
 * in another order. Fewer at the end; what can't be decoded is silent.
 */
export async function readStretch(
  bytes: ByteReader,
  frames: RegularFrames,
  from: number,
  count: number,
): Promise<Block> {
  const { header, delay } = frames;
  const { framesPerPacket, channels } = header;
  const kept = Math.max(0, Math.min(count, frames.samples - from));
  const block = Array.from({ length: channels }, () => new Float32Array(kept));
  if (!kept) return block;
  const first = delay + from;
  const begin = await findFrame(bytes, frames, Math.max(0, Math.floor(first / framesPerPacket) - framesBefore(header)));
  if (!begin) return block;
  const end = Math.min(frames.count, Math.ceil((first + kept) / framesPerPacket) + 1);
  const { MPEGDecoder } = await import('mpg123-decoder');
  const decoder = new MPEGDecoder({ enableGapless: false });
  await decoder.ready;
  try {
    const coded = await bytes.read(begin.at, Math.ceil((end - begin.index) * meanBytes(header)) + HEADER_BYTES);
    const { channelData } = decoder.decode(coded);
    const skipped = first - begin.index * framesPerPacket;
    // mono comes back twice
    for (const [c, channel] of block.entries()) channel.set(channelData[c]?.subarray(skipped, skipped + kept) ?? []);
    return block;
  } finally {
    decoder.free();
  }
}
