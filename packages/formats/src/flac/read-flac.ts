import type { FileFacts } from '@tonos/core';
import { ascii, type ByteReader, viewOf } from '../bytes/byte-reader.ts';
import { decodedFile } from '../compressed/decoded-file.ts';
import { type AudioFile, checkRange, type InputFormat, UnreadableFileError } from '../format.ts';

const READ_BYTES = 65536;

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
    readBytes: READ_BYTES,
    newDecoder: async () => new (await import('@wasm-audio-decoders/flac')).FLACDecoder(),
    mend: (block) => undoScaling(block, bitDepth),
  });
}

export const flac: InputFormat = { name: 'FLAC', recognises: (head) => ascii(head, 0, 4) === 'fLaC', open: openFlac };
