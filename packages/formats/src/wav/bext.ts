import { open } from 'node:fs/promises';
import type { Measurement, SignalFormat } from '@tonos/core';
import { ascii, viewOf } from '../bytes/byte-reader.ts';
import type { DeliveryNotes } from '../tags/delivery-notes.ts';

/** The broadcast extension chunk, version 2 (EBU Tech 3285). */

const FIXED_BYTES = 602;
const LOUDNESS_AT = 412;
/** Says that a loudness figure is not known. */
const UNKNOWN = 0x7fff;

/** What the figures hang on: one line of coding history. */
const history = (
  { software, recipeSha256 }: DeliveryNotes,
  { sampleRateHz, channels }: SignalFormat,
  bitDepth: number,
) =>
  `A=PCM,F=${sampleRateHz},W=${bitDepth},M=${channels === 1 ? 'mono' : channels === 2 ? 'stereo' : 'multitrack'},T=${software}${recipeSha256 ? `; recipe ${recipeSha256}` : ''}\r\n`;

/** ASCII, as the chunk wants it: other letters without their accents, or a question mark. */
const plain = (text: string): string =>
  text
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .replace(/[^\x20-\x7e\r\n]/g, '?');

/** The whole chunk, its loudness not known yet. Its length is even. */
export function bextChunk(notes: DeliveryNotes, format: SignalFormat, bitDepth: number): Uint8Array {
  const lines = plain(history(notes, format, bitDepth));
  const size = FIXED_BYTES + lines.length + (lines.length & 1);
  const bytes = new Uint8Array(8 + size);
  const view = viewOf(bytes);
  const text = (at: number, most: number, value = '') =>
    bytes.set(new TextEncoder().encode(plain(value).slice(0, most)), 8 + at);
  bytes.set(new TextEncoder().encode('bext'));
  view.setUint32(4, size, true);
  const of = [notes.album, notes.authors && `by ${notes.authors}`, notes.publisher, notes.copyright].filter(Boolean);
  // what matters most comes first, since only so much goes in
  text(0, 256, [notes.title, of.join(', ')].filter(Boolean).join('. '));
  text(256, 32, notes.software);
  text(288, 32, notes.recipeSha256);
  text(320, 10, notes.date?.slice(0, 10));
  text(330, 8, notes.date?.slice(11, 19));
  view.setBigUint64(8 + 338, BigInt(Math.round((notes.timeReferenceSeconds ?? 0) * format.sampleRateHz)), true);
  view.setUint16(8 + 346, 2, true);
  for (let i = 0; i < 5; i++) view.setInt16(8 + LOUDNESS_AT + 2 * i, UNKNOWN, true);
  text(FIXED_BYTES, lines.length, lines);
  return bytes;
}

/** Writes what a finished file measures into its chunk, in hundredths; a file without one is left alone. No sample changes. */
export async function noteLoudness(path: string, measured: Measurement): Promise<void> {
  const file = await open(path, 'r+');
  try {
    const { buffer } = await file.read(Buffer.alloc(80), 0, 80, 0);
    const at = 48;
    if (ascii(buffer, 8, 4) !== 'WAVE' || ascii(buffer, at, 4) !== 'bext') return;
    const figures = [
      measured.integratedLufs,
      measured.loudnessRangeLu,
      measured.truePeakDbtp,
      measured.maxMomentaryLufs,
      measured.maxShortTermLufs,
    ];
    const bytes = new Uint8Array(2 * figures.length);
    figures.forEach((figure, i) => {
      viewOf(bytes).setInt16(2 * i, figure === null ? UNKNOWN : Math.round(100 * figure), true);
    });
    await file.write(bytes, 0, bytes.length, at + 8 + LOUDNESS_AT);
    await file.sync();
  } finally {
    await file.close();
  }
}
