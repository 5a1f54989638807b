import { assumedSpeakers, type Speaker, speakersOfMask } from '@tonos/core';
import { ascii, type ByteReader, viewOf } from '../bytes/byte-reader.ts';
import { type AudioFile, checkRange, type InputFormat, UnreadableFileError } from '../format.ts';
import { pcmFile } from '../pcm/pcm-file.ts';
import { LITTLE_ENDIAN } from '../pcm/samples.ts';

const FORMAT_TAG = { pcm: 0x0001, float: 0x0003, extensible: 0xfffe } as const; // RFC 2361, appendix A
const UNKNOWN_SIZE = 0xffffffff;
const MOST_CHUNKS = 10_000;

interface WavHeader {
  tag: number;
  channels: number;
  sampleRateHz: number;
  bits: number;
  speakers: readonly Speaker[];
  dataStart: number;
  /** Data bytes by the header; undefined: to the end of the file. */
  dataBytes: number | undefined;
}

interface FormatChunk {
  tag: number;
  channels: number;
  sampleRateHz: number;
  bits: number;
  speakers: readonly Speaker[];
}

function readFormatChunk(bytes: Uint8Array, file: string): FormatChunk {
  if (bytes.length < 16)
    throw new UnreadableFileError(
      'damaged',
      `${file} has a format chunk of ${bytes.length} bytes; 16 are needed. The file is damaged: export it again.`,
      { file },
    );
  const view = viewOf(bytes);
  const tag = view.getUint16(0, true);
  const extensible = tag === FORMAT_TAG.extensible && bytes.length >= 26;
  const channels = view.getUint16(2, true);
  return {
    // an extensible header says its real tag in the first two bytes of the sub-format
    tag: extensible ? view.getUint16(24, true) : tag,
    channels,
    speakers: extensible ? speakersOfMask(view.getUint32(20, true), channels) : assumedSpeakers(channels),
    sampleRateHz: view.getUint32(4, true),
    bits: view.getUint16(14, true),
  };
}

async function readHeader(bytes: ByteReader, file: string): Promise<WavHeader> {
  const wide = ascii(await bytes.read(0, 4), 0, 4) !== 'RIFF';
  let format: FormatChunk | undefined;
  let wideDataBytes: number | undefined;
  let at = 12;
  for (let chunk = 0; chunk < MOST_CHUNKS && at + 8 <= bytes.size; chunk++) {
    const head = await bytes.read(at, 8);
    const id = ascii(head, 0, 4);
    const size = viewOf(head).getUint32(4, true);
    if (id === 'data') {
      if (!format) break;
      const streamed = size === 0 || size === UNKNOWN_SIZE;
      // a recorder that lost its power never came to write the real size
      const dataBytes = wide && size === UNKNOWN_SIZE ? wideDataBytes || undefined : streamed ? undefined : size;
      return { ...format, dataStart: at + 8, dataBytes };
    }
    if (id === 'fmt ') format = readFormatChunk(await bytes.read(at + 8, Math.min(size, 40)), file);
    if (id === 'ds64') wideDataBytes = Number(viewOf(await bytes.read(at + 8, 28)).getBigUint64(8, true));
    at += 8 + size + (size & 1);
  }
  const missing = format ? 'no sound data' : 'no description of its sound';
  throw new UnreadableFileError(
    'damaged',
    `${file} is a WAV file with ${missing}: it is damaged or cut off. Export it again.`,
    { file },
  );
}

async function openWav(bytes: ByteReader, file: string): Promise<AudioFile> {
  const header = await readHeader(bytes, file);
  const { channels, sampleRateHz, bits, speakers, tag, dataStart } = header;
  const codec = tag === FORMAT_TAG.float ? 'float' : 'pcm';
  const layout = LITTLE_ENDIAN[`${codec}-${bits}`];
  if ((tag !== FORMAT_TAG.float && tag !== FORMAT_TAG.pcm) || !layout) {
    const found =
      tag === FORMAT_TAG.pcm || tag === FORMAT_TAG.float
        ? `${bits}-bit ${codec}`
        : `codec 0x${tag.toString(16).padStart(4, '0')}`;
    throw new UnreadableFileError(
      'unsupported',
      `${file} holds ${found}; WAV is read as PCM of 8, 16, 24 or 32 bits or as float. Export it again as one of these.`,
      { file, tag, bits },
    );
  }
  checkRange(header, file);
  const frameBytes = layout.bytes * channels;
  const statedFrames = header.dataBytes === undefined ? undefined : Math.floor(header.dataBytes / frameBytes);
  const container = { RIFF: 'wav', RF64: 'rf64', BW64: 'bw64' }[ascii(await bytes.read(0, 4), 0, 4)] ?? 'wav';
  const facts = { sampleRateHz, channels, bitDepth: bits, container, codec };
  return pcmFile(bytes, file, facts, { layout, dataStart, statedFrames, speakers });
}

export const wav: InputFormat = {
  name: 'WAV',
  recognises: (head) => ['RIFF', 'RF64', 'BW64'].includes(ascii(head, 0, 4)) && ascii(head, 8, 4) === 'WAVE',
  open: openWav,
};
