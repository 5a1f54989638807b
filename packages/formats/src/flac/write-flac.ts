import { createHash } from 'node:crypto';
import { type Block, framesOf } from '@tonos/core';
import type { AudioWriter, OpenWriter } from '../format.ts';
import { Quantiser } from '../pcm/quantiser.ts';
import type { DeliveryNotes } from '../tags/delivery-notes.ts';
import { pictureBlock } from '../tags/picture.ts';
import { vorbisComments } from '../tags/write-vorbis-comments.ts';
import { encodeFrame, FRAME_SAMPLES } from './encode-frame.ts';

/** RFC 9639. STREAMINFO is mended at the end: sizes, length and the MD5 of the samples. Vorbis comments follow it. */
const MAGIC = [0x66, 0x4c, 0x61, 0x43];
const HEADER_BYTES = 4 + 4 + 34;

interface Totals {
  frames: number;
  smallest: number;
  largest: number;
  md5: Uint8Array;
}

function header(rate: number, channels: number, bits: number, { frames, smallest, largest, md5 }: Totals): Uint8Array {
  const bytes = new Uint8Array(HEADER_BYTES);
  const view = new DataView(bytes.buffer);
  bytes.set(MAGIC);
  view.setUint32(4, 34); // a metadata block that is not the last, STREAMINFO
  view.setUint16(8, FRAME_SAMPLES);
  view.setUint16(10, FRAME_SAMPLES);
  view.setUint8(12, smallest >> 16);
  view.setUint16(13, smallest & 0xffff);
  view.setUint8(15, largest >> 16);
  view.setUint16(16, largest & 0xffff);
  // rate 20 bits, channels - 1 in 3, bits - 1 in 5, frames in 36
  const low = frames % 2 ** 32;
  view.setUint32(18, ((rate << 12) | ((channels - 1) << 9) | ((bits - 1) << 4) | Math.floor(frames / 2 ** 32)) >>> 0);
  view.setUint32(22, low >>> 0);
  bytes.set(md5, 26);
  return bytes;
}

const [COMMENTS, PICTURE, LAST] = [4, 6, 0x80];
/** A block's length has 24 bits. */
const MOST_BLOCK_BYTES = 0xffffff;

function metadataBlock(type: number, content: Uint8Array): Uint8Array {
  const bytes = new Uint8Array(4 + content.length);
  new DataView(bytes.buffer).setUint32(0, type * 2 ** 24 + content.length);
  bytes.set(content, 4);
  return bytes;
}

/** What follows STREAMINFO. */
function notesBlocks(notes: DeliveryNotes): Uint8Array[] {
  const picture = notes.picture && pictureBlock(notes.picture);
  const fits = picture && picture.length <= MOST_BLOCK_BYTES;
  return [...(fits ? [metadataBlock(PICTURE, picture)] : []), metadataBlock(LAST | COMMENTS, vorbisComments(notes))];
}

export const writeFlac: OpenWriter = async (
  bytes,
  { format, bitDepth = 24, notes = { software: 'Tonos' } },
): Promise<AudioWriter> => {
  const { sampleRateHz, channels } = format;
  const bits = bitDepth === 16 ? 16 : 24;
  const quantiser = new Quantiser(bits, channels);
  const md5 = createHash('md5');
  const totals: Totals = { frames: 0, smallest: 0, largest: 0, md5: new Uint8Array(16) };
  const held = Array.from({ length: channels }, () => new Int32Array(FRAME_SAMPLES));
  let filled = 0;
  let number = 0;

  const endFrame = async () => {
    const samples = held.map((channel) => channel.subarray(0, filled));
    md5.update(interleaved(samples, bits));
    const frame = encodeFrame(samples, bits, sampleRateHz, number++);
    totals.frames += filled;
    totals.smallest = totals.smallest ? Math.min(totals.smallest, frame.length) : frame.length;
    totals.largest = Math.max(totals.largest, frame.length);
    filled = 0;
    await bytes.write(frame);
  };

  await bytes.write(header(sampleRateHz, channels, bits, totals));
  for (const block of notesBlocks(notes)) await bytes.write(block);
  return {
    write: async (block: Block) => {
      const frames = framesOf(block);
      const values = quantiser.next(block);
      for (let start = 0; start < frames; ) {
        const count = Math.min(FRAME_SAMPLES - filled, frames - start);
        for (let c = 0; c < channels; c++) held[c].set(values[c].subarray(start, start + count), filled);
        filled += count;
        start += count;
        if (filled === FRAME_SAMPLES) await endFrame();
      }
    },
    finish: async () => {
      if (filled) await endFrame();
      await bytes.patch(0, header(sampleRateHz, channels, bits, { ...totals, md5: md5.digest() }));
    },
  };
};

/** As the MD5 wants them: little endian, in as many bytes as the bits need. */
function interleaved(samples: readonly Int32Array[], bits: 16 | 24): Uint8Array {
  const width = bits / 8;
  const frames = samples[0].length;
  const bytes = new Uint8Array(frames * samples.length * width);
  let at = 0;
  for (let i = 0; i < frames; i++) {
    for (const channel of samples) {
      const value = channel[i];
      bytes[at++] = value & 0xff;
      bytes[at++] = (value >> 8) & 0xff;
      if (width === 3) bytes[at++] = (value >> 16) & 0xff;
    }
  }
  return bytes;
}
