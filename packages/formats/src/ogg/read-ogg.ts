import { dbToGain, type Warning } from '@tonos/core';
import { ascii, type ByteReader, viewOf } from '../bytes/byte-reader.ts';
import { decodedFile, type StreamDecoder } from '../compressed/decoded-file.ts';
import { type AudioFile, checkRange, type InputFormat, UnreadableFileError } from '../format.ts';
import { shortPage } from './ogg-page-writer.ts';
import { LARGEST_PAGE, lastPage, type OggPage, readPage } from './ogg-pages.ts';

const OPUS_RATE_HZ = 48000;
/** The output gain is a number of 8.8 bits in dB, which decoders must apply: RFC 7845, 5.1. */
const OUTPUT_GAIN_STEPS = 256;

/** Where Vorbis and Opus put the channels of WAVE files. Vorbis I, 4.3.9; RFC 7845, 5.1.1.2. */
const WAVE_ORDER: Readonly<Record<number, readonly number[]>> = {
  3: [0, 2, 1],
  5: [0, 2, 1, 3, 4],
  6: [0, 2, 1, 5, 3, 4],
  7: [0, 2, 1, 6, 5, 3, 4],
  8: [0, 2, 1, 7, 5, 6, 3, 4],
};

interface OggCodec {
  codec: 'opus' | 'vorbis';
  sampleRateHz: number;
  channels: number;
  /** Frames at the start that belong to the coder and not to the sound. */
  preSkip: number;
  /** What samples are multiplied by. */
  gain: number;
  newDecoder(): Promise<StreamDecoder>;
}

/** The identification header of the first packet. RFC 7845, 5.1; Vorbis I, 4.2.2. */
function identify(head: Uint8Array, { payload }: OggPage): OggCodec | undefined {
  const view = viewOf(head);
  if (ascii(head, payload, 8) === 'OpusHead') {
    // always 48 kHz out, whatever went in
    return {
      codec: 'opus',
      sampleRateHz: OPUS_RATE_HZ,
      channels: head[payload + 9],
      preSkip: view.getUint16(payload + 10, true),
      gain: dbToGain(view.getInt16(payload + 16, true) / OUTPUT_GAIN_STEPS),
      newDecoder: async () => new (await import('ogg-opus-decoder')).OggOpusDecoder(),
    };
  }
  if (head[payload] === 1 && ascii(head, payload + 1, 6) === 'vorbis') {
    return {
      codec: 'vorbis',
      sampleRateHz: view.getUint32(payload + 12, true),
      channels: head[payload + 11],
      preSkip: 0,
      gain: 1,
      newDecoder: async () => new (await import('@wasm-audio-decoders/ogg-vorbis')).OggVorbisDecoder(),
    };
  }
  return undefined;
}

const NO_TAGS = Uint8Array.from([...new TextEncoder().encode('OpusTags'), 0, 0, 0, 0, 0, 0, 0, 0]);

/**
 * The decoder of Opus takes its tags from one page; a cover picture fills several. They are read elsewhere, so that a decoder is given
 * empty ones in their place.
 */
async function withoutTags(
  bytes: ByteReader,
  first: OggPage,
): Promise<{ head: Uint8Array; start: number } | undefined> {
  let start = first.bytes;
  for (;;) {
    const page = readPage(await bytes.read(start, LARGEST_PAGE), 0);
    if (!page) return undefined;
    start += page.bytes;
    if (page.granule >= 0n) break; // the tags end on this one, and sound begins on the next: RFC 7845, 3
  }
  const identification = await bytes.read(0, first.bytes);
  return { head: Buffer.concat([identification, shortPage(NO_TAGS, first.serial, 1)]), start };
}

function amplify(block: Float32Array[], gain: number): void {
  for (const channel of block) for (let i = 0; i < channel.length; i++) channel[i] *= gain;
}

async function openOgg(bytes: ByteReader, file: string): Promise<AudioFile> {
  const head = await bytes.read(0, 4096);
  const page = readPage(head, 0);
  const found = page && page.payload + 30 <= head.length ? identify(head, page) : undefined;
  if (!page || !found) {
    throw new UnreadableFileError(
      'unsupported',
      `${file} is an Ogg file that holds neither Opus nor Vorbis. Export it as one of these, or as WAV or FLAC.`,
      { file },
    );
  }
  const { codec, sampleRateHz, channels, preSkip, gain, newDecoder } = found;
  checkRange({ sampleRateHz, channels }, file);
  const end = await lastPage(bytes, page.serial);
  const frames = end === undefined ? undefined : Math.max(0, Number(end.granule) - preSkip);
  if (frames === 0)
    throw new UnreadableFileError('empty', `${file} holds no samples. Record or export it again.`, { file });
  const foundDamage: Warning[] = end?.last
    ? []
    : [{ code: 'truncated', message: 'The file ends before its stream does: it is cut off.' }];
  const bitrateKbps = frames ? Math.round((bytes.size * 8 * sampleRateHz) / frames / 1000) : null;
  const facts = { sampleRateHz, channels, bitDepth: null, bitrateKbps, container: 'ogg', codec };
  return decodedFile(bytes, file, {
    facts,
    frames,
    ...((codec === 'opus' && (await withoutTags(bytes, page))) || { start: 0 }),
    newDecoder,
    order: WAVE_ORDER[channels],
    mend: gain === 1 ? undefined : (block) => amplify(block, gain),
    foundDamage,
  });
}

export const ogg: InputFormat = {
  name: 'Ogg Opus and Vorbis',
  recognises: (head) => ascii(head, 0, 4) === 'OggS',
  open: openOgg,
};
