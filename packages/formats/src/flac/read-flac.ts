import type { FileFacts } from '@tonos/core';
import { ascii, type ByteReader, viewOf } from '../bytes/byte-reader.ts';
import { decodedFile } from '../compressed/decoded-file.ts';
import { type AudioFile, checkRange, type InputFormat, UnreadableFileError } from '../format.ts';

/** STREAMINFO, RFC 9639 section 8.2. */
function readStreamInfo(bytes: Uint8Array) {
  const view = viewOf(bytes);
  const packed = view.getBigUint64(10);
  return {
    sampleRateHz: Number(packed >> 44n),
    channels: Number((packed >> 41n) & 7n) + 1,
    bitDepth: Number((packed >> 36n) & 31n) + 1,
    frames: Number(packed & 0xfffffffffn),
  };
}

/** The decoder divides samples by 2^(b-1) - 1; FLAC means 2^(b-1). */
function undoScaling(block: Float32Array[], bitDepth: number): void {
  const full = 2 ** (bitDepth - 1);
  for (const channel of block) {
    for (let i = 0; i < channel.length; i++) channel[i] = Math.round(channel[i] * (full - 1)) / full;
  }
}

/** How many bytes follow a frame header's fixed four for each of these codes: RFC 9639, 9.1. */
const CODED_SIZE: Readonly<Record<number, number>> = { 6: 1, 7: 2 };
const CODED_RATE: Readonly<Record<number, number>> = { 12: 1, 13: 2, 14: 2 };

/** A decoder looks at a header once so many bytes are there. */
const HEADER_LOOKAHEAD = 64;

/**
 * The header of the first frame. Given once more after the last frame it tells a decoder where that one ends: by itself it loses a
 * frame whose third byte from the end is 255, since a header could begin there.
 */
async function firstFrameHeader(bytes: ByteReader): Promise<Uint8Array> {
  let at = 4;
  for (let last = false; !last; ) {
    const block = await bytes.read(at, 4);
    if (block.length < 4) return new Uint8Array(0);
    last = block[0] >= 0x80;
    at += 4 + (viewOf(block).getUint32(0) & 0xffffff);
  }
  const frame = await bytes.read(at, 16);
  // the frame's number is coded as in UTF-8: as many bytes as its first one has ones in front, or one
  const number = Math.max(1, Math.clz32(~(frame[4] << 24)));
  const length = 4 + number + (CODED_SIZE[frame[2] >> 4] ?? 0) + (CODED_RATE[frame[2] & 15] ?? 0) + 1;
  const more = new Uint8Array(length + HEADER_LOOKAHEAD);
  more.set(frame.subarray(0, length));
  return more;
}

async function openFlac(bytes: ByteReader, file: string): Promise<AudioFile> {
  const head = await bytes.read(0, 42);
  if (head.length < 42)
    throw new UnreadableFileError('damaged', `${file} is a FLAC file cut off in its header. Export it again.`, {
      file,
    });
  const info = readStreamInfo(head.subarray(8));
  checkRange(info, file);
  const { sampleRateHz, channels, bitDepth } = info;
  const facts: FileFacts = {
    sampleRateHz,
    channels,
    bitDepth,
    bitrateKbps: info.frames ? Math.round((bytes.size * 8 * sampleRateHz) / info.frames / 1000) : null,
    container: 'flac',
    codec: 'flac',
  };
  return decodedFile(bytes, file, {
    facts,
    frames: info.frames || undefined,
    start: 0,
    tail: await firstFrameHeader(bytes),
    newDecoder: async () => new (await import('@wasm-audio-decoders/flac')).FLACDecoder(),
    mend: (block) => undoScaling(block, bitDepth),
  });
}

export const flac: InputFormat = { name: 'FLAC', recognises: (head) => ascii(head, 0, 4) === 'fLaC', open: openFlac };
