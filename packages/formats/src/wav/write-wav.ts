import { type Block, framesOf } from '@tonos/core';
import { viewOf } from '../bytes/byte-reader.ts';
import type { ByteWriter } from '../bytes/byte-writer.ts';
import type { AudioWriter, WriterOptions } from '../format.ts';
import { Quantiser } from '../pcm/quantiser.ts';
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

/** Samples to bytes; integers are dithered. */
class SampleEncoder {
  private readonly quantiser: Quantiser;

  constructor(private readonly bitDepth: 16 | 24 | 32) {
    this.quantiser = new Quantiser(bitDepth === 16 ? 16 : 24);
  }

  encode(block: Block): Uint8Array {
    const { bitDepth, quantiser } = this;
    const frames = framesOf(block);
    const width = bitDepth / 8;
    const bytes = new Uint8Array(frames * block.length * width);
    const view = viewOf(bytes);
    let at = 0;
    for (let i = 0; i < frames; i++) {
      for (let c = 0; c < block.length; c++, at += width) {
        if (bitDepth === 32) view.setFloat32(at, block[c][i], true);
        else if (bitDepth === 16) view.setInt16(at, quantiser.next(block[c][i]), true);
        else {
          const value = quantiser.next(block[c][i]);
          view.setUint16(at, value & 0xffff, true);
          view.setInt8(at + 2, value >> 16);
        }
      }
    }
    return bytes;
  }
}

export async function writeWav(bytes: ByteWriter, options: WriterOptions): Promise<AudioWriter> {
  await bytes.write(header(options, 0));
  const headerBytes = bytes.size;
  const encoder = new SampleEncoder(options.bitDepth ?? 24);
  return {
    write: (block) => bytes.write(encoder.encode(block)),
    finish: async () => {
      const dataBytes = bytes.size - headerBytes;
      if (dataBytes & 1) await bytes.write(new Uint8Array(1));
      await bytes.patch(0, header(options, dataBytes));
    },
  };
}
