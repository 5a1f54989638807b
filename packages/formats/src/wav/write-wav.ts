import { maskOf } from '@tonos/core';
import { viewOf } from '../bytes/byte-reader.ts';
import type { ByteWriter } from '../bytes/byte-writer.ts';
import type { AudioWriter, WriterOptions } from '../format.ts';
import { SampleEncoder } from '../pcm/sample-encoder.ts';
import { bextChunk } from './bext.ts';

const PLAIN_FORMAT_BYTES = 16;
const EXTENSIBLE_FORMAT_BYTES = 40;
/** KSDATAFORMAT_SUBTYPE_PCM and _IEEE_FLOAT differ in their first two bytes only. */
const SUBFORMAT_REST = Uint8Array.of(0, 0, 0, 0, 0x10, 0, 0x80, 0, 0, 0xaa, 0, 0x38, 0x9b, 0x71);

/**
 * RIFF with room for the 64-bit sizes of RF64 (EBU Tech 3306), which it becomes beyond 4 GiB; a `bext` chunk where there is
 * something to say.
 */
function header({ format, bitDepth = 24, notes }: WriterOptions, dataBytes: number): Uint8Array {
  const bext = notes ? bextChunk(notes, format, bitDepth) : new Uint8Array(0);
  // a layout of more than two channels needs the longer description
  const formatBytes = format.channels > 2 && format.speakers ? EXTENSIBLE_FORMAT_BYTES : PLAIN_FORMAT_BYTES;
  const headerBytes = 12 + 36 + bext.length + 8 + formatBytes + 8;
  const bytes = new Uint8Array(headerBytes);
  const view = viewOf(bytes);
  const text = (at: number, value: string) => bytes.set(new TextEncoder().encode(value), at);
  const wide = dataBytes + headerBytes > 0xffffffff;
  const frameBytes = (format.channels * bitDepth) / 8;
  const padded = dataBytes + (dataBytes & 1);
  text(0, wide ? 'RF64' : 'RIFF');
  view.setUint32(4, wide ? 0xffffffff : headerBytes - 8 + padded, true);
  text(8, 'WAVE');
  text(12, wide ? 'ds64' : 'JUNK');
  view.setUint32(16, 28, true);
  if (wide) {
    view.setBigUint64(20, BigInt(headerBytes - 8 + padded), true);
    view.setBigUint64(28, BigInt(dataBytes), true);
    view.setBigUint64(36, BigInt(dataBytes / frameBytes), true);
  }
  bytes.set(bext, 48);
  const at = 48 + bext.length;
  text(at, 'fmt ');
  const tag = bitDepth === 32 ? 3 : 1;
  view.setUint32(at + 4, formatBytes, true);
  view.setUint16(at + 8, formatBytes > PLAIN_FORMAT_BYTES ? 0xfffe : tag, true);
  view.setUint16(at + 10, format.channels, true);
  view.setUint32(at + 12, format.sampleRateHz, true);
  view.setUint32(at + 16, format.sampleRateHz * frameBytes, true);
  view.setUint16(at + 20, frameBytes, true);
  view.setUint16(at + 22, bitDepth, true);
  if (formatBytes > PLAIN_FORMAT_BYTES) {
    view.setUint16(at + 24, formatBytes - PLAIN_FORMAT_BYTES - 2, true);
    view.setUint16(at + 26, bitDepth, true);
    view.setUint32(at + 28, maskOf(format.speakers!), true);
    view.setUint16(at + 32, tag, true);
    bytes.set(SUBFORMAT_REST, at + 34);
  }
  const data = at + 8 + formatBytes;
  text(data, 'data');
  view.setUint32(data + 4, wide ? 0xffffffff : dataBytes, true);
  return bytes;
}

export async function writeWav(bytes: ByteWriter, options: WriterOptions): Promise<AudioWriter> {
  await bytes.write(header(options, 0));
  const headerBytes = bytes.size;
  const encoder = new SampleEncoder(options.bitDepth ?? 24, options.format.channels);
  return {
    write: (block) => bytes.write(encoder.encode(block)),
    finish: async () => {
      const dataBytes = bytes.size - headerBytes;
      if (dataBytes & 1) await bytes.write(new Uint8Array(1));
      await bytes.patch(0, header(options, dataBytes));
    },
  };
}
