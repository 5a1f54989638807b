import { type Block, framesOf } from '@tonos/core';
import { viewOf } from '../bytes/byte-reader.ts';
import type { ByteWriter } from '../bytes/byte-writer.ts';
import type { AudioWriter, WriterOptions } from '../format.ts';
import { Quantiser } from '../pcm/quantiser.ts';

/** RIFF with room for the 64-bit sizes of RF64 (EBU Tech 3306), which it becomes beyond 4 GiB. */
const HEADER_BYTES = 12 + 36 + 24 + 8;

function header({ format, bitDepth = 24 }: WriterOptions, dataBytes: number): Uint8Array {
  const bytes = new Uint8Array(HEADER_BYTES);
  const view = viewOf(bytes);
  const text = (at: number, value: string) => bytes.set(new TextEncoder().encode(value), at);
  const wide = dataBytes + HEADER_BYTES > 0xffffffff;
  const frameBytes = (format.channels * bitDepth) / 8;
  const padded = dataBytes + (dataBytes & 1);
  text(0, wide ? 'RF64' : 'RIFF');
  view.setUint32(4, wide ? 0xffffffff : HEADER_BYTES - 8 + padded, true);
  text(8, 'WAVE');
  text(12, wide ? 'ds64' : 'JUNK');
  view.setUint32(16, 28, true);
  if (wide) {
    view.setBigUint64(20, BigInt(HEADER_BYTES - 8 + padded), true);
    view.setBigUint64(28, BigInt(dataBytes), true);
    view.setBigUint64(36, BigInt(dataBytes / frameBytes), true);
  }
  text(48, 'fmt ');
  view.setUint32(52, 16, true);
  view.setUint16(56, bitDepth === 32 ? 3 : 1, true);
  view.setUint16(58, format.channels, true);
  view.setUint32(60, format.sampleRateHz, true);
  view.setUint32(64, format.sampleRateHz * frameBytes, true);
  view.setUint16(68, frameBytes, true);
  view.setUint16(70, bitDepth, true);
  text(72, 'data');
  view.setUint32(76, wide ? 0xffffffff : dataBytes, true);
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
  const encoder = new SampleEncoder(options.bitDepth ?? 24);
  return {
    write: (block) => bytes.write(encoder.encode(block)),
    finish: async () => {
      const dataBytes = bytes.size - HEADER_BYTES;
      if (dataBytes & 1) await bytes.write(new Uint8Array(1));
      await bytes.patch(0, header(options, dataBytes));
    },
  };
}
