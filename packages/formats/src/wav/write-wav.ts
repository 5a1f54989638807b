import { viewOf } from '../bytes/byte-reader.ts';
import type { ByteWriter } from '../bytes/byte-writer.ts';
import type { AudioWriter, WriterOptions } from '../format.ts';
import { SampleEncoder } from '../pcm/sample-encoder.ts';
import { bextChunk } from './bext.ts';

/**
 * RIFF with room for the 64-bit sizes of RF64 (EBU Tech 3306), which it becomes beyond 4 GiB; a `bext` chunk where there is
 * something to say.
 */
function header({ format, bitDepth = 24, notes }: WriterOptions, dataBytes: number): Uint8Array {
  const bext = notes ? bextChunk(notes, format, bitDepth) : new Uint8Array(0);
  const headerBytes = 12 + 36 + bext.length + 24 + 8;
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
  view.setUint32(at + 4, 16, true);
  view.setUint16(at + 8, bitDepth === 32 ? 3 : 1, true);
  view.setUint16(at + 10, format.channels, true);
  view.setUint32(at + 12, format.sampleRateHz, true);
  view.setUint32(at + 16, format.sampleRateHz * frameBytes, true);
  view.setUint16(at + 20, frameBytes, true);
  view.setUint16(at + 22, bitDepth, true);
  text(at + 24, 'data');
  view.setUint32(at + 28, wide ? 0xffffffff : dataBytes, true);
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
