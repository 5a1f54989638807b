import { framesOf, TonosError } from '@tonos/core';
import { createMp3Encoder } from 'wasm-media-encoders';
import type { ByteWriter } from '../bytes/byte-writer.ts';
import type { AudioWriter, WriterOptions } from '../format.ts';
import { parseMp3Header } from './frame-header.ts';
import { crc16, infoFrame, infoFrameBytes } from './info-frame.ts';

type Bitrate = Parameters<Awaited<ReturnType<typeof createMp3Encoder>>['configure']>[0]['bitrate'];

/** MP3 at a constant bit rate, with an Info frame that makes the decoded length exact. */
export async function writeMp3(bytes: ByteWriter, { format, bitrateKbps = 128 }: WriterOptions): Promise<AudioWriter> {
  const { sampleRateHz, channels } = format;
  if (channels !== 1 && channels !== 2)
    throw new TonosError('unsupported', `MP3 holds 1 or 2 channels, not ${channels}. Give the target a channel count.`);
  if (sampleRateHz > 48000)
    throw new TonosError(
      'unsupported',
      `MP3 holds up to 48 kHz, not ${sampleRateHz} Hz. Give the target a sample rate.`,
    );
  const encoder = await createMp3Encoder();
  encoder.configure({ sampleRate: sampleRateHz as 44100, channels, bitrate: bitrateKbps as Bitrate });
  let first: Uint8Array | undefined;
  let samples = 0;
  let packets = 0;
  let musicBytes = 0;
  let crc = 0;
  let toNextHeader = 0;
  const take = async (encoded: Uint8Array) => {
    if (!encoded.length) return;
    const music = encoded.slice(); // the encoder's memory is reused
    if (!first) {
      first = music.slice(0, 4);
      await bytes.write(new Uint8Array(infoFrameBytes(first)));
    }
    // whole frames come out of the encoder, one after the other
    let at = toNextHeader;
    while (at < music.length) {
      const header = parseMp3Header(music, at);
      if (!header) throw new TonosError('encoder', 'The MP3 encoder gave bytes that are no frame.');
      packets++;
      at += header.frameBytes;
    }
    toNextHeader = at - music.length;
    musicBytes += music.length;
    crc = crc16(music, crc);
    await bytes.write(music);
  };
  return {
    write: async (block) => {
      samples += framesOf(block);
      await take(encoder.encode(block.map((channel) => channel.slice())));
    },
    finish: async () => {
      await take(encoder.finalize());
      if (first) await bytes.patch(0, infoFrame(first, packets, musicBytes, samples, crc));
    },
  };
}
