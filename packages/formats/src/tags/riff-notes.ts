import { ascii, type ByteReader, viewOf } from '../bytes/byte-reader.ts';
import { cleanText, type FileMark, type FileNotes, type Tags, trackNumber, withoutGaps } from './tags.ts';

/** INFO, bext (EBU Tech 3285), cue and adtl, iXML of a WAV file, wherever they lie. */

const MOST_CHUNKS = 10_000;
const MOST_BYTES = 1 << 20;

interface Cue {
  frame: number;
  name?: string;
  frames?: number;
}

interface Reading {
  tags: Tags;
  cues: Map<number, Cue>;
  timeReferenceFrames?: number;
  sampleRateHz?: number;
}

const textOf = (bytes: Uint8Array) => cleanText(new TextDecoder('utf-8').decode(bytes).split('\0')[0]);

const READERS: Readonly<Record<string, (bytes: Uint8Array, reading: Reading) => void>> = {
  'fmt ': (bytes, reading) => {
    if (bytes.length >= 8) reading.sampleRateHz = viewOf(bytes).getUint32(4, true);
  },
  bext: (bytes, reading) => {
    if (bytes.length < 346) return;
    const view = viewOf(bytes);
    reading.tags.description = textOf(bytes.subarray(0, 256));
    reading.tags.originator = textOf(bytes.subarray(256, 288));
    reading.timeReferenceFrames = Number(view.getBigUint64(338, true));
  },
  'cue ': (bytes, { cues }) => {
    const view = viewOf(bytes);
    const count = bytes.length >= 4 ? view.getUint32(0, true) : 0;
    for (let i = 0, at = 4; i < count && at + 24 <= bytes.length; i++, at += 24) {
      const id = view.getUint32(at, true);
      cues.set(id, { ...cues.get(id), frame: view.getUint32(at + 20, true) });
    }
  },
  LIST: (bytes, reading) => {
    const kind = ascii(bytes, 0, 4);
    for (const [id, part] of chunksOf(bytes.subarray(4))) {
      if (kind === 'INFO') INFO[id]?.(textOf(part), reading.tags);
      if (kind === 'adtl' && part.length >= 4) ADTL[id]?.(part, reading.cues);
    }
  },
  iXML: (bytes, { tags }) => {
    const text = new TextDecoder().decode(bytes);
    const element = (name: string) => cleanText(new RegExp(`<${name}>([^<]*)</${name}>`).exec(text)?.[1]);
    tags.scene = element('SCENE');
    tags.take = element('TAKE');
  },
};

const INFO: Readonly<Record<string, (text: string | undefined, tags: Tags) => void>> = {
  INAM: (text, tags) => {
    tags.title = text;
  },
  IART: (text, tags) => {
    tags.artist = text;
  },
  ITRK: (text, tags) => {
    tags.track = trackNumber(text);
  },
  IPRT: (text, tags) => {
    tags.track ??= trackNumber(text);
  },
  ICMT: (text, tags) => {
    tags.description ??= text;
  },
};

const ADTL: Readonly<Record<string, (part: Uint8Array, cues: Map<number, Cue>) => void>> = {
  labl: (part, cues) => {
    const id = viewOf(part).getUint32(0, true);
    cues.set(id, { frame: 0, ...cues.get(id), name: textOf(part.subarray(4)) });
  },
  ltxt: (part, cues) => {
    if (part.length < 8) return;
    const id = viewOf(part).getUint32(0, true);
    cues.set(id, { frame: 0, ...cues.get(id), frames: viewOf(part).getUint32(4, true) });
  },
};

function* chunksOf(bytes: Uint8Array): Generator<[id: string, bytes: Uint8Array]> {
  for (let at = 0; at + 8 <= bytes.length; ) {
    const size = viewOf(bytes).getUint32(at + 4, true);
    yield [ascii(bytes, at, 4), bytes.subarray(at + 8, at + 8 + size)];
    at += 8 + size + (size & 1);
  }
}

export async function riffNotes(bytes: ByteReader): Promise<FileNotes> {
  const reading: Reading = { tags: {}, cues: new Map() };
  for (let at = 12, chunk = 0; at + 8 <= bytes.size && chunk < MOST_CHUNKS; chunk++) {
    const head = await bytes.read(at, 8);
    const size = viewOf(head).getUint32(4, true);
    const read = READERS[ascii(head, 0, 4)];
    if (read && size <= MOST_BYTES) read(await bytes.read(at + 8, size), reading);
    at += 8 + size + (size & 1);
  }
  const { tags, cues, timeReferenceFrames, sampleRateHz } = reading;
  if (!sampleRateHz) return { tags: withoutGaps(tags), marks: [] };
  if (timeReferenceFrames) tags.timeReferenceSeconds = timeReferenceFrames / sampleRateHz;
  const marks: FileMark[] = [...cues.entries()].map(([id, { frame, name, frames = 0 }]) => ({
    name: name ?? `Mark ${id}`,
    startSeconds: frame / sampleRateHz,
    endSeconds: (frame + frames) / sampleRateHz,
  }));
  return { tags: withoutGaps(tags), marks: marks.sort((a, b) => a.startSeconds - b.startSeconds) };
}
