import { definedSpeakers, type Speaker, speakersOfMask } from '@tonos/core';
import { ascii, type ByteReader, viewOf } from '../bytes/byte-reader.ts';
import { type AudioFile, checkRange, type InputFormat, UnreadableFileError } from '../format.ts';
import { pcmFile } from '../pcm/pcm-file.ts';
import { BIG_ENDIAN, LITTLE_ENDIAN, type SampleLayout } from '../pcm/samples.ts';

/** AIFF and AIFC (Apple, "Audio Interchange File Format", 1989 and 1991). */

const MOST_CHUNKS = 10_000;

interface Common {
  channels: number;
  frames: number;
  bits: number;
  sampleRateHz: number;
  /** Four letters; plain AIFF is "NONE". */
  compression: string;
}

/** An 80-bit extended float: sign and exponent in 16 bits, then 64 bits of mantissa. */
function readExtended(view: DataView, offset: number): number {
  const exponent = (view.getUint16(offset) & 0x7fff) - 16383;
  return view.getUint32(offset + 2) * 2 ** (exponent - 31) + view.getUint32(offset + 6) * 2 ** (exponent - 63);
}

function readCommon(bytes: Uint8Array, file: string): Common {
  if (bytes.length < 18) throw damaged(file, `a description of ${bytes.length} bytes; 18 are needed`);
  const view = viewOf(bytes);
  return {
    channels: view.getUint16(0),
    frames: view.getUint32(2),
    bits: view.getUint16(6),
    sampleRateHz: readExtended(view, 8),
    compression: bytes.length >= 22 ? ascii(bytes, 18, 4) : 'NONE',
  };
}

const damaged = (file: string, what: string) =>
  new UnreadableFileError(
    'damaged',
    `${file} is an AIFF file with ${what}: it is damaged or cut off. Export it again.`,
    { file },
  );

/** Samples of 12 or 20 bits lie left-justified in whole bytes. */
const wholeBytes = (bits: number) => 8 * Math.ceil(bits / 8);

const CODECS: Readonly<Record<string, (bits: number) => { codec: string; layout: SampleLayout | undefined }>> = {
  NONE: (bits) => ({ codec: 'pcm', layout: BIG_ENDIAN[`pcm-${wholeBytes(bits)}`] }),
  twos: (bits) => ({ codec: 'pcm', layout: BIG_ENDIAN[`pcm-${wholeBytes(bits)}`] }),
  in24: () => ({ codec: 'pcm', layout: BIG_ENDIAN['pcm-24'] }),
  in32: () => ({ codec: 'pcm', layout: BIG_ENDIAN['pcm-32'] }),
  sowt: (bits) => ({
    codec: 'pcm',
    layout: bits <= 8 ? BIG_ENDIAN['pcm-8'] : LITTLE_ENDIAN[`pcm-${wholeBytes(bits)}`],
  }),
  fl32: () => ({ codec: 'float', layout: BIG_ENDIAN['float-32'] }),
  FL32: () => ({ codec: 'float', layout: BIG_ENDIAN['float-32'] }),
  fl64: () => ({ codec: 'float', layout: BIG_ENDIAN['float-64'] }),
  FL64: () => ({ codec: 'float', layout: BIG_ENDIAN['float-64'] }),
};

/** Layouts that the format defines and that are what they say; four and more tracks may be anything. */
const DEFINED_LAYOUTS: Readonly<Record<number, readonly Speaker[]>> = {
  1: definedSpeakers(1),
  2: definedSpeakers(2),
  3: definedSpeakers(3),
};

async function openAiff(bytes: ByteReader, file: string): Promise<AudioFile> {
  let common: Common | undefined;
  let dataStart: number | undefined;
  for (let at = 12, chunk = 0; at + 8 <= bytes.size && chunk < MOST_CHUNKS; chunk++) {
    const head = await bytes.read(at, 16);
    const id = ascii(head, 0, 4);
    const size = viewOf(head).getUint32(4);
    if (id === 'COMM') common = readCommon(await bytes.read(at + 8, Math.min(size, 64)), file);
    // the samples begin after an offset that only block-aligned files use
    if (id === 'SSND' && head.length === 16) dataStart = at + 16 + viewOf(head).getUint32(8);
    if (common && dataStart !== undefined) break;
    at += 8 + size + (size & 1);
  }
  if (!common) throw damaged(file, 'no description of its sound');
  if (dataStart === undefined) throw damaged(file, 'no sound data');
  const { compression, bits, channels, frames } = common;
  const { codec, layout } = CODECS[compression]?.(bits) ?? {};
  if (!layout || !codec) {
    throw new UnreadableFileError(
      'unsupported',
      `${file} holds ${bits}-bit "${compression.trim()}"; AIFF is read as PCM of 8 to 32 bits or as float. Export it again as one of these.`,
      { file, compression, bits },
    );
  }
  const sampleRateHz = Math.round(common.sampleRateHz);
  checkRange({ sampleRateHz, channels }, file);
  const facts = { sampleRateHz, channels, bitDepth: bits, container: 'aiff', codec };
  return pcmFile(bytes, file, facts, {
    layout,
    dataStart,
    statedFrames: frames,
    speakers: DEFINED_LAYOUTS[channels] ?? speakersOfMask(0, channels),
  });
}

export const aiff: InputFormat = {
  name: 'AIFF',
  recognises: (head) => ascii(head, 0, 4) === 'FORM' && ['AIFF', 'AIFC'].includes(ascii(head, 8, 4)),
  open: openAiff,
};
