import { type Block, framesOf, TonosError } from '@tonos/core';
import type { OpenWriter } from '../format.ts';
import { Quantiser } from '../pcm/quantiser.ts';
import type { DeliveryNotes } from '../tags/delivery-notes.ts';
import { pictureBlock } from '../tags/picture.ts';
import { vorbisComments } from '../tags/write-vorbis-comments.ts';
import { OggPageWriter } from './ogg-page-writer.ts';

/** Ogg Opus, RFC 7845. */

const RATE_HZ = 48000;
const PACKET_FRAMES = 960;
/** A page holds a second: seeking stays fine and the overhead small. */
const PACKETS_A_PAGE = 50;
/** What libopus looks ahead at 48 kHz: its window of 2.5 ms and 4 ms of delay compensation. Decoders drop so much at the start. */
const PRE_SKIP = 312;
const SERIAL = 0x746f6e6f;

function identification(channels: number): Uint8Array {
  const bytes = new Uint8Array(19);
  const view = new DataView(bytes.buffer);
  bytes.set(new TextEncoder().encode('OpusHead'));
  bytes[8] = 1;
  bytes[9] = channels;
  view.setUint16(10, PRE_SKIP, true);
  view.setUint32(12, RATE_HZ, true);
  return bytes;
}

function tags(notes: DeliveryNotes): Uint8Array {
  const { picture } = notes;
  const base64 = picture && Buffer.from(pictureBlock(picture)).toString('base64');
  return Buffer.concat([
    Buffer.from('OpusTags'),
    vorbisComments(notes, base64 ? [['METADATA_BLOCK_PICTURE', base64]] : []),
  ]);
}

export const writeOpus: OpenWriter = async (bytes, { format, bitrateKbps = 64, notes = { software: 'Tonos' } }) => {
  const { sampleRateHz, channels } = format;
  if (channels > 2)
    throw new TonosError(
      'unsupported',
      `Opus is written with 1 or 2 channels, not ${channels}. Give the target a channel count.`,
    );
  if (sampleRateHz !== RATE_HZ)
    throw new TonosError(
      'unsupported',
      `Opus is written at 48000 Hz, not ${sampleRateHz} Hz. Give the target this rate.`,
    );
  const { default: OpusScript } = await import('opusscript');
  const encoder = new OpusScript(RATE_HZ, channels as 1 | 2, OpusScript.Application.AUDIO);
  encoder.setBitrate(1000 * bitrateKbps);
  const pages = new OggPageWriter(bytes, SERIAL);
  await pages.packet(identification(channels), 0);
  await pages.endPage();
  await pages.packet(tags(notes), 0);
  await pages.endPage();

  // the encoder takes whole numbers of 16 bits
  const quantiser = new Quantiser(16, channels);
  const packet = Buffer.alloc(PACKET_FRAMES * channels * 2);
  let filled = 0;
  let heard = 0;
  let packets = 0;
  const encode = async () => {
    const encoded = encoder.encode(packet, PACKET_FRAMES);
    filled = 0;
    if (packets > 0 && packets % PACKETS_A_PAGE === 0) await pages.endPage();
    packets++;
    await pages.packet(new Uint8Array(encoded), packets * PACKET_FRAMES);
  };
  const take = async (block: Block, frames: number) => {
    const values = quantiser.next(block);
    for (let i = 0; i < frames; i++) {
      for (let c = 0; c < channels; c++) packet.writeInt16LE(values[c][i], 2 * (filled * channels + c));
      if (++filled === PACKET_FRAMES) await encode();
    }
  };
  return {
    write: async (block) => {
      const frames = framesOf(block);
      heard += frames;
      await take(block, frames);
    },
    finish: async () => {
      // what the coder looks ahead must be heard out, and its last packet be full
      const missing = heard + PRE_SKIP - packets * PACKET_FRAMES - filled;
      const rest =
        Math.max(0, missing) + ((PACKET_FRAMES - ((filled + Math.max(0, missing)) % PACKET_FRAMES)) % PACKET_FRAMES);
      await take(
        Array.from({ length: channels }, () => new Float32Array(rest)),
        rest,
      );
      await pages.endPage({ last: true, granule: heard + PRE_SKIP });
      encoder.delete();
    },
  };
};
