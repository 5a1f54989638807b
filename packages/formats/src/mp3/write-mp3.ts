import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { framesOf, TonosError } from '@tonos/core';
import type { createMp3Encoder } from 'wasm-media-encoders';
import type { ByteWriter } from '../bytes/byte-writer.ts';
import type { AudioWriter, WriterOptions } from '../format.ts';
import { id3Tag } from '../tags/write-id3.ts';
import { parseMp3Header } from './frame-header.ts';
import { crc16, infoFrame, infoFrameBytes } from './info-frame.ts';

type Configuration = Parameters<Awaited<ReturnType<typeof createMp3Encoder>>['configure']>[0];

const RATES_HZ = [8000, 11025, 12000, 16000, 22050, 24000, 32000, 44100, 48000];
const BITRATES_KBPS = [8, 16, 24, 32, 40, 48, 64, 80, 96, 112, 128, 160, 192, 224, 256, 320];

/** LAME 3.100 turns what it encodes down by this, to leave room for its own overshoots (its presets.c). We take that back:
 * levels come out as they went in, and room is left by the target's peak limit. */
const encoderGain = (kbps: number): number => (kbps <= 160 ? 0.95 : kbps <= 192 ? 0.97 : kbps <= 224 ? 0.98 : 1);

type Encoder = Awaited<ReturnType<typeof createMp3Encoder>>;

/** LAME, compiled once: what the engine has made fast in one render is fast in the next. */
let lame: Promise<WebAssembly.Module> | undefined;
/** Encoders that ended what they had: each is some megabytes of memory, and begins anew when it is configured. */
const idle: Encoder[] = [];
const MOST_IDLE = 2;

async function anEncoder(): Promise<Encoder> {
  const known = idle.pop();
  if (known) return known;
  const path = createRequire(import.meta.url).resolve('wasm-media-encoders/wasm/mp3');
  lame ??= readFile(path).then((bytes) => WebAssembly.compile(bytes));
  const { createEncoder } = await import('wasm-media-encoders');
  return createEncoder('audio/mpeg', await lame);
}

/** MP3 at a constant bit rate, with an Info frame that makes the decoded length exact. */
export async function writeMp3(
  bytes: ByteWriter,
  { format, bitrateKbps = 128, notes }: WriterOptions,
): Promise<AudioWriter> {
  const { sampleRateHz, channels } = format;
  if (channels !== 1 && channels !== 2)
    throw new TonosError('unsupported', `MP3 holds 1 or 2 channels, not ${channels}. Give the target a channel count.`);
  if (!RATES_HZ.includes(sampleRateHz))
    throw new TonosError(
      'unsupported',
      `MP3 holds ${RATES_HZ.join(', ')} Hz, not ${sampleRateHz} Hz. Give the target one of these rates.`,
    );
  if (!BITRATES_KBPS.includes(bitrateKbps))
    throw new TonosError(
      'unsupported',
      `MP3 is written at ${BITRATES_KBPS.join(', ')} kbps, not ${bitrateKbps}. Give the target one of these.`,
    );
  const encoder = await anEncoder();
  const rate = sampleRateHz as Configuration['outputSampleRate'];
  encoder.configure({
    sampleRate: sampleRateHz,
    outputSampleRate: rate,
    channels,
    bitrate: bitrateKbps as Configuration['bitrate'],
  });
  const gain = 1 / encoderGain(bitrateKbps);
  const rooms: Float32Array[] = [];
  const scaled = (samples: Float32Array, c: number): Float32Array => {
    if (gain === 1) return samples;
    if (!rooms[c] || rooms[c].length < samples.length) rooms[c] = new Float32Array(samples.length);
    const out = rooms[c].subarray(0, samples.length);
    for (let i = 0; i < out.length; i++) out[i] = gain * samples[i];
    return out;
  };
  // written with the longest length, so that every chapter has its room; mended at the end
  const tagBytes = notes ? id3Tag(notes, Number.POSITIVE_INFINITY).length : 0;
  if (notes) await bytes.write(id3Tag(notes, 0, tagBytes));
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
      await take(encoder.encode(block.map((channel, c) => scaled(channel, c))));
    },
    finish: async () => {
      await take(encoder.finalize());
      if (idle.length < MOST_IDLE) idle.push(encoder);
      if (notes) await bytes.patch(0, id3Tag(notes, samples / sampleRateHz, tagBytes));
      if (first) await bytes.patch(tagBytes, infoFrame(first, packets, musicBytes, samples, crc));
    },
  };
}
