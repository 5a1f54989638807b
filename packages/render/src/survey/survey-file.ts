import { type FileHandle, open } from 'node:fs/promises';
import type { PyramidChannel, PyramidLevel, Survey } from '@tonos/core';

/**
 * A survey on disk: "TSV1", the length of a JSON header, the header, then arrays one after the other: of each level and channel
 * the smallest samples, the largest and the RMS (16 bits), then the loudness lines (float32) and the peak marks (a byte each). Little endian.
 */
const MAGIC = 'TSV1';
const PREFIX_BYTES = 8;

interface Header extends Omit<Survey, 'levels' | 'momentaryLufs' | 'shortTermLufs' | 'peakMarks'> {
  levels: Omit<PyramidLevel, 'channels'>[];
  momentary: number;
  shortTerm: number;
  /** Missing in surveys of older versions. */
  marks?: number;
}

const bytesOf = (array: Int16Array | Uint16Array | Float32Array) =>
  new Uint8Array(array.buffer, array.byteOffset, array.byteLength);

/** Writes a survey whole, on the disk when this resolves. The file must not exist. */
export async function writeSurvey(path: string, survey: Survey): Promise<void> {
  const { levels, momentaryLufs, shortTermLufs, peakMarks, ...rest } = survey;
  const header: Header = {
    ...rest,
    levels: levels.map(({ framesPerColumn, columns }) => ({ framesPerColumn, columns })),
    momentary: momentaryLufs.length,
    shortTerm: shortTermLufs.length,
    marks: peakMarks.length,
  };
  const text = Buffer.from(JSON.stringify(header));
  const prefix = Buffer.alloc(PREFIX_BYTES);
  prefix.write(MAGIC);
  // the arrays start at a multiple of four
  const padded = Buffer.concat([text, Buffer.alloc((4 - (text.length % 4)) % 4, ' ')]);
  prefix.writeUInt32LE(padded.length, 4);
  const handle = await open(path, 'wx');
  try {
    await handle.writeFile(Buffer.concat([prefix, padded]));
    for (const { channels } of levels)
      for (const { low, high, rms } of channels)
        for (const array of [low, high, rms]) await handle.writeFile(bytesOf(array));
    await handle.writeFile(bytesOf(momentaryLufs));
    await handle.writeFile(bytesOf(shortTermLufs));
    await handle.writeFile(peakMarks);
    await handle.sync();
  } finally {
    await handle.close();
  }
}

/** A survey whose arrays are read as they are needed. */
export class SurveyReader {
  private constructor(
    private readonly handle: FileHandle,
    readonly header: Header,
    private readonly start: number,
  ) {}

  static async open(path: string): Promise<SurveyReader> {
    const handle = await open(path, 'r');
    try {
      const prefix = Buffer.alloc(PREFIX_BYTES);
      await handle.read(prefix, 0, PREFIX_BYTES, 0);
      if (prefix.toString('latin1', 0, 4) !== MAGIC) throw new Error(`${path} is no survey.`);
      const text = Buffer.alloc(prefix.readUInt32LE(4));
      await handle.read(text, 0, text.length, PREFIX_BYTES);
      return new SurveyReader(handle, JSON.parse(text.toString()) as Header, PREFIX_BYTES + text.length);
    } catch (error) {
      await handle.close();
      throw error;
    }
  }

  /** Columns of one channel at one level. */
  async columns(level: number, channel: number, from: number, to: number): Promise<PyramidChannel> {
    const { levels, channels } = this.header;
    let offset = this.start;
    for (let l = 0; l < level; l++) offset += 6 * channels * levels[l].columns;
    const { columns } = levels[level];
    offset += 6 * channel * columns;
    const [low, high, rms] = await Promise.all(
      [0, 1, 2].map((part) => this.read(offset + 2 * (part * columns + from), 2 * (to - from))),
    );
    return { low: new Int16Array(low), high: new Int16Array(high), rms: new Uint16Array(rms) };
  }

  /** Values of a loudness line from index `from` to `to`. */
  async loudness(line: 'momentary' | 'shortTerm', from: number, to: number): Promise<Float32Array> {
    const { levels, channels, momentary } = this.header;
    const offset =
      this.start +
      levels.reduce((sum, { columns }) => sum + 6 * channels * columns, 0) +
      (line === 'momentary' ? 0 : 4 * momentary);
    return new Float32Array(await this.read(offset + 4 * from, 4 * Math.max(0, to - from)));
  }

  /** Peak marks from tenth `from` to `to`; none where an older version made the survey. */
  async peakMarks(from: number, to: number): Promise<Uint8Array> {
    const { levels, channels, momentary, shortTerm, marks = 0 } = this.header;
    const end = Math.min(marks, to);
    if (from >= end) return new Uint8Array(0);
    const columns = levels.reduce((sum, level) => sum + level.columns, 0);
    const offset = this.start + 6 * channels * columns + 4 * (momentary + shortTerm);
    return new Uint8Array(await this.read(offset + from, end - from));
  }

  close(): Promise<void> {
    return this.handle.close();
  }

  private async read(offset: number, length: number): Promise<ArrayBuffer> {
    const bytes = new Uint8Array(length);
    await this.handle.read(bytes, 0, length, offset);
    return bytes.buffer;
  }
}
