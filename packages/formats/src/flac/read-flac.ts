import type { Block, CancelSignal, FileFacts, Warning } from '@tonos/core';
import { FLACDecoder } from '@wasm-audio-decoders/flac';
import { ascii, type ByteReader, viewOf } from '../bytes/byte-reader.ts';
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

/** The decoder divides positive samples by 2^(b-1) - 1 and negative ones by 2^(b-1); FLAC means 2^(b-1) for both. */
function undoScaling(block: Float32Array[], bitDepth: number): Block {
  const full = 2 ** (bitDepth - 1);
  for (const channel of block) {
    for (let i = 0; i < channel.length; i++)
      if (channel[i] > 0) channel[i] = Math.round(channel[i] * (full - 1)) / full;
  }
  return block;
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
  const damage: Warning[] = [];
  const facts: FileFacts = {
    sampleRateHz,
    channels,
    bitDepth,
    bitrateKbps: info.frames ? Math.round((bytes.size * 8 * sampleRateHz) / info.frames / 1000) : null,
    container: 'flac',
    codec: 'flac',
  };
  async function* blocks({ signal }: { signal?: CancelSignal } = {}): AsyncGenerator<Block> {
    const decoder = new FLACDecoder();
    await decoder.ready;
    let heard = 0;
    damage.length = 0;
    try {
      for (let at = 0; at <= bytes.size; at += READ_BYTES) {
        signal?.throwIfAborted();
        const last = at + READ_BYTES > bytes.size;
        const decoded = await decoder.decode(await bytes.read(at, READ_BYTES));
        for (const part of last ? [decoded, await decoder.flush()] : [decoded]) {
          if (!part.samplesDecoded || part.channelData.length !== channels) continue;
          heard += part.samplesDecoded;
          yield undoScaling(part.channelData, bitDepth);
        }
      }
    } finally {
      decoder.free();
    }
    if (info.frames && heard < info.frames) {
      damage.push({
        code: 'damaged',
        message: `${info.frames - heard} of ${info.frames} frames are missing or could not be decoded.`,
      });
    }
  }
  return {
    format: { sampleRateHz, channels },
    facts,
    frames: info.frames || undefined,
    damage,
    blocks,
    close: () => bytes.close(),
  };
}

export const flac: InputFormat = { name: 'FLAC', recognises: (head) => ascii(head, 0, 4) === 'fLaC', open: openFlac };
