import { endianness } from 'node:os';
import { type Block, cut, framesOf } from '@tonos/core';
import { kernels, once, roomFor } from '@tonos/kernels';
import { Quantiser } from './quantiser.ts';

const CHUNK = 16384;
const MOST_FRAME_BYTES = 32;

const room = once(() => ({ bytes: roomFor((CHUNK * MOST_FRAME_BYTES) / 4) }));

/** Samples to the bytes of a WAV file, the small end first; integers are dithered. */
export class SampleEncoder {
  private readonly quantiser: Quantiser;

  constructor(
    private readonly bitDepth: 16 | 24 | 32,
    private readonly channels: number,
  ) {
    this.quantiser = new Quantiser(bitDepth === 16 ? 16 : 24, channels);
  }

  encode(block: Block): Uint8Array {
    const { bitDepth, channels } = this;
    const bytes = new Uint8Array((framesOf(block) * channels * bitDepth) / 8);
    if (bitDepth === 32) {
      const floats = new Float32Array(bytes.buffer);
      block.forEach((channel, c) => {
        for (let i = 0, at = c; i < channel.length; i++, at += channels) floats[at] = channel[i];
      });
      if (endianness() === 'BE') Buffer.from(bytes.buffer).swap32();
      return bytes;
    }
    const kernel = kernels();
    const { bytes: packed } = room();
    const width = bitDepth / 8;
    const stride = width * channels;
    const pack = bitDepth === 16 ? kernel.to16 : kernel.to24;
    let start = 0;
    for (const piece of cut(block, CHUNK)) {
      const frames = framesOf(piece);
      piece.forEach((samples, c) => {
        pack(this.quantiser.dithered(samples, c), frames, stride, packed + c * width);
      });
      bytes.set(kernel.u8.subarray(packed, packed + frames * stride), start);
      start += frames * stride;
    }
    return bytes;
  }
}
