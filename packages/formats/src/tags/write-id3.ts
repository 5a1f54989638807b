import { chapterSpans, type DeliveryNotes } from './delivery-notes.ts';
import type { Picture } from './picture.ts';

/** ID3v2.4.0 (id3.org) with chapters by its chapter addendum. All text is UTF-8. */

const UTF8 = 3;
const NO_OFFSET = [0xff, 0xff, 0xff, 0xff];
/** The table of contents is the root and its entries are in order. */
const TOP_LEVEL_ORDERED = 3;
const FRONT_COVER = 3;

type Part = readonly number[] | Uint8Array;

const encoded = (text: string): Uint8Array => new TextEncoder().encode(text);
const ended = (text: string): Uint8Array => joined([encoded(text), [0]]);
const synchsafe = (value: number): number[] => [21, 14, 7, 0].map((shift) => (value >> shift) & 127);
const word = (value: number): number[] => [24, 16, 8, 0].map((shift) => (value >>> shift) & 255);

function joined(parts: readonly Part[]): Uint8Array {
  const bytes = new Uint8Array(parts.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const part of parts) {
    bytes.set(part, at);
    at += part.length;
  }
  return bytes;
}

function frame(id: string, ...body: Part[]): Uint8Array {
  const content = joined(body);
  return joined([encoded(id), synchsafe(content.length), [0, 0], content]);
}

const textFrame = (id: string, text: string): Uint8Array => frame(id, [UTF8], encoded(text));

const pictureFrame = ({ mediaType, bytes }: Picture): Uint8Array =>
  frame('APIC', [UTF8], ended(mediaType), [FRONT_COVER], ended(''), bytes);

/** ISO 639-2 for “no language is known”; and of those that are common in speech, which ID3 wants in three letters. */
const UNDETERMINED = 'und';
const THREE_LETTERS: Readonly<Record<string, string>> = {
  ...{ ar: 'ara', cs: 'ces', da: 'dan', de: 'deu', el: 'ell', en: 'eng', es: 'spa', et: 'est', fi: 'fin', fr: 'fra' },
  ...{ he: 'heb', hi: 'hin', hu: 'hun', is: 'isl', it: 'ita', ja: 'jpn', ko: 'kor', lt: 'lit', lv: 'lav', nl: 'nld' },
  ...{ no: 'nor', nb: 'nob', nn: 'nno', pl: 'pol', pt: 'por', ro: 'ron', ru: 'rus', sk: 'slk', sl: 'slv', sv: 'swe' },
  ...{ tr: 'tur', uk: 'ukr', zh: 'zho', hr: 'hrv', sr: 'srp', bg: 'bul', ca: 'cat', eu: 'eus', ga: 'gle', cy: 'cym' },
};
const threeLetters = (language: string): string => {
  const [main] = language.toLowerCase().split('-');
  return main.length === 3 ? main : (THREE_LETTERS[main] ?? UNDETERMINED);
};

/**
 * The tag for a file of some length. Its size hangs on the notes and the number of chapters only if all of them lie within the
 * file: a writer that learns the length at the end passes `fixedBytes` to fill the rest with padding.
 */
export function id3Tag(notes: DeliveryNotes, durationSeconds: number, fixedBytes = 0): Uint8Array {
  const { title, artist, album, track, trackTotal, date, software, recipeSha256, picture } = notes;
  const chapters = chapterSpans(notes.chapters ?? [], durationSeconds);
  const texts: [string, string | undefined][] = [
    ['TIT2', title],
    ['TPE1', artist],
    ['TALB', album],
    ['TRCK', track === undefined ? undefined : trackTotal ? `${track}/${trackTotal}` : String(track)],
    ['TPE2', notes.authors],
    ['TIPL', notes.voices && `narrator\0${notes.voices}`],
    ['TPUB', notes.publisher],
    ['TDRC', notes.year === undefined ? undefined : String(notes.year)],
    ['TLAN', notes.language && threeLetters(notes.language)],
    ['TCOP', notes.copyright],
    ['TDEN', date?.slice(0, 19)],
    ['TSSE', software],
  ];
  const ids = chapters.map((_, i) => ended(`ch${i + 1}`));
  const frames = joined([
    ...texts.flatMap(([id, text]) => (text ? [textFrame(id, text)] : [])),
    ...(notes.description ? [frame('COMM', [UTF8], encoded(UNDETERMINED), ended(''), encoded(notes.description))] : []),
    ...Object.entries({ RECIPE_SHA256: recipeSha256, SERIES: notes.series, 'SERIES-PART': notes.seriesNumber }).flatMap(
      ([name, text]) => (text ? [frame('TXXX', [UTF8], ended(name), encoded(text))] : []),
    ),
    ...(chapters.length
      ? [frame('CTOC', ended('toc'), [TOP_LEVEL_ORDERED, Math.min(255, chapters.length)], ...ids.slice(0, 255))]
      : []),
    ...chapters.map((chapter, i) =>
      frame(
        'CHAP',
        ids[i],
        word(Math.round(chapter.startSeconds * 1000)),
        word(Math.round(chapter.endSeconds * 1000)),
        NO_OFFSET,
        NO_OFFSET,
        textFrame('TIT2', chapter.title),
      ),
    ),
    ...(picture ? [pictureFrame(picture)] : []),
  ]);
  const padding = new Uint8Array(Math.max(0, fixedBytes - 10 - frames.length));
  return joined([encoded('ID3'), [4, 0, 0], synchsafe(frames.length + padding.length), frames, padding]);
}
