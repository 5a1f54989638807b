import type { FileFacts } from '@tonos/core';
import { id3Length } from '../bytes/behind-id3.ts';
import { ascii, type ByteReader, viewOf } from '../bytes/byte-reader.ts';
import { decodedFile } from '../compressed/decoded-file.ts';
import { type AudioFile, checkRange, type InputFormat, UnreadableFileError } from '../format.ts';
import { type Mp3Header, parseMp3Header } from './frame-header.ts';
import { areRegular, readStretch } from './read-stretch.ts';

const SEARCH_BYTES = 65536;

/** Length of the ID3v2 tags before the music. */
async function musicStart(bytes: ByteReader): Promise<number> {
  let at = 0;
  for (let tags = 0; tags < 10; tags++) {
    const length = id3Length(await bytes.read(at, 10));
    if (!length) break;
    at += length;
  }
  return at;
}

/** The first of two headers that fit together: a lone sync word is found in any noise. */
function firstHeader(bytes: Uint8Array): { at: number; header: Mp3Header } | undefined {
  for (let at = 0; at + 4 < bytes.length; at++) {
    const header = parseMp3Header(bytes, at);
    const next = header && at + header.frameBytes;
    if (header && (next! + 4 > bytes.length || parseMp3Header(bytes, next)?.sampleRateHz === header.sampleRateHz))
      return { at, header };
  }
  return undefined;
}

/** Samples that a decoder adds before those that the encoder added. */
const DECODER_DELAY = 529;

interface Stated {
  /** Exact number of samples. */
  samples: number;
  /** Frames of music, and samples that the encoder added before the first. */
  count: number;
  delay: number;
  /** Of all frames, this one among them; undefined where it does not say. */
  bytes: number | undefined;
}

/** What an Info or Xing frame tells. */
function statedBy(frame: Uint8Array, header: Mp3Header): Stated | undefined {
  const tag = 4 + header.sideBytes;
  if (!['Info', 'Xing'].includes(ascii(frame, tag, 4))) return undefined;
  const view = viewOf(frame);
  const flags = view.getUint32(tag + 4);
  if (!(flags & 1)) return undefined;
  const count = view.getUint32(tag + 8);
  const lame = tag + 120;
  if (frame.length < lame + 24 || !/^L(AME|avc|avf)/.test(ascii(frame, lame, 4))) return undefined;
  const delay = (frame[lame + 21] << 4) | (frame[lame + 22] >> 4);
  const padding = ((frame[lame + 22] & 15) << 8) | frame[lame + 23];
  const bytes = flags & 2 ? view.getUint32(tag + 12) : undefined;
  return { samples: count * header.framesPerPacket - delay - padding, count, delay, bytes };
}

async function openMp3(bytes: ByteReader, file: string): Promise<AudioFile> {
  const start = await musicStart(bytes);
  const search = await bytes.read(start, SEARCH_BYTES);
  const found = firstHeader(search);
  if (!found) throw new UnreadableFileError('not-audio', `${file} holds no MP3 frames. Export it again.`, { file });
  const { header, at } = found;
  checkRange(header, file);
  const { sampleRateHz, channels } = header;
  const stated = statedBy(search.subarray(at, at + header.frameBytes), header);
  const frames = stated?.samples;
  const music = parseMp3Header(search, at + header.frameBytes) ?? header;
  const variable = ascii(search, at + 4 + header.sideBytes, 4) === 'Xing';
  // the mean of a variable bit rate; a constant one is the music's own, since an Info frame may be larger
  const bitrateKbps =
    variable && frames ? Math.round(((bytes.size - start) * 8 * sampleRateHz) / frames / 1000) : music.bitrateKbps;
  const facts: FileFacts = { sampleRateHz, channels, bitDepth: null, bitrateKbps, container: 'mp3', codec: 'mp3' };
  const isRegular = stated?.bytes && !variable && areRegular(music, stated.count, stated.bytes - header.frameBytes);
  const regular = isRegular && {
    ...stated,
    header: music,
    start: start + at + header.frameBytes,
    delay: stated.delay + DECODER_DELAY,
  };
  return decodedFile(bytes, file, {
    facts,
    frames,
    start,
    ...(regular && { readFrames: (from, count) => readStretch(bytes, regular, from, count) }),
    newDecoder: async () => new (await import('mpg123-decoder')).MPEGDecoder({ enableGapless: true }),
  });
}

export const mp3: InputFormat = {
  name: 'MP3',
  recognises: (head) =>
    ascii(head, 0, 3) === 'ID3' || (parseMp3Header(head) !== undefined && firstHeader(head) !== undefined),
  open: openMp3,
};
