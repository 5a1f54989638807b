import type { FileFacts } from '@tonos/core';
import { id3Length } from '../bytes/behind-id3.ts';
import { ascii, type ByteReader, viewOf } from '../bytes/byte-reader.ts';
import { decodedFile } from '../compressed/decoded-file.ts';
import { type AudioFile, checkRange, type InputFormat, UnreadableFileError } from '../format.ts';
import { type Mp3Header, parseMp3Header } from './frame-header.ts';

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

/** Exact number of samples where an Info or Xing frame tells it. */
function statedFrames(frame: Uint8Array, header: Mp3Header): number | undefined {
  const tag = 4 + header.sideBytes;
  if (!['Info', 'Xing'].includes(ascii(frame, tag, 4))) return undefined;
  const view = viewOf(frame);
  if (!(view.getUint32(tag + 4) & 1)) return undefined;
  const all = view.getUint32(tag + 8) * header.framesPerPacket;
  const lame = tag + 120;
  if (frame.length < lame + 24 || !/^L(AME|avc|avf)/.test(ascii(frame, lame, 4))) return undefined;
  const delay = (frame[lame + 21] << 4) | (frame[lame + 22] >> 4);
  const padding = ((frame[lame + 22] & 15) << 8) | frame[lame + 23];
  return all - delay - padding;
}

async function openMp3(bytes: ByteReader, file: string): Promise<AudioFile> {
  const start = await musicStart(bytes);
  const search = await bytes.read(start, SEARCH_BYTES);
  const found = firstHeader(search);
  if (!found) throw new UnreadableFileError('not-audio', `${file} holds no MP3 frames. Export it again.`, { file });
  const { header, at } = found;
  checkRange(header, file);
  const { sampleRateHz, channels } = header;
  const frames = statedFrames(search.subarray(at, at + header.frameBytes), header);
  const variable = ascii(search, at + 4 + header.sideBytes, 4) === 'Xing';
  // the mean of a variable bit rate; a constant one is the music's own, since an Info frame may be larger
  const bitrateKbps =
    variable && frames
      ? Math.round(((bytes.size - start) * 8 * sampleRateHz) / frames / 1000)
      : (parseMp3Header(search, at + header.frameBytes) ?? header).bitrateKbps;
  const facts: FileFacts = { sampleRateHz, channels, bitDepth: null, bitrateKbps, container: 'mp3', codec: 'mp3' };
  return decodedFile(bytes, file, {
    facts,
    frames,
    start,
    newDecoder: async () => new (await import('mpg123-decoder')).MPEGDecoder({ enableGapless: true }),
  });
}

export const mp3: InputFormat = {
  name: 'MP3',
  recognises: (head) =>
    ascii(head, 0, 3) === 'ID3' || (parseMp3Header(head) !== undefined && firstHeader(head) !== undefined),
  open: openMp3,
};
