import { chapterSpans, type DeliveryNotes } from './delivery-notes.ts';

const twoDigits = (value: number) => String(value).padStart(2, '0');

/** 3723.5 -> "01:02:03.500" */
function clock(seconds: number): string {
  const ms = Math.round(seconds * 1000);
  const [hours, minutes, rest] = [Math.floor(ms / 3_600_000), Math.floor(ms / 60_000) % 60, ms % 60_000];
  return `${twoDigits(hours)}:${twoDigits(minutes)}:${twoDigits(Math.floor(rest / 1000))}.${String(rest % 1000).padStart(3, '0')}`;
}

/**
 * Vorbis comments (Vorbis I, 5) without a framing bit, as FLAC and Opus want them; chapters by the CHAPTERxxx convention.
 * @param more further fields
 */
export function vorbisComments(notes: DeliveryNotes, more: readonly [string, string][] = []): Uint8Array {
  const fields: [string, string | number | undefined][] = [
    ['TITLE', notes.title],
    ['ARTIST', notes.artist],
    ['ALBUM', notes.album],
    ['TRACKNUMBER', notes.track],
    ['TRACKTOTAL', notes.trackTotal],
    ['ALBUMARTIST', notes.authors],
    ['PERFORMER', notes.voices],
    ['ORGANIZATION', notes.publisher],
    ['DATE', notes.year ?? notes.date?.slice(0, 10)],
    ['LANGUAGE', notes.language],
    ['SERIES', notes.series],
    ['SERIES-PART', notes.seriesNumber],
    ['DESCRIPTION', notes.description],
    ['COPYRIGHT', notes.copyright],
    ['ENCODER', notes.software],
    ['RECIPE_SHA256', notes.recipeSha256],
    ...chapterSpans(notes.chapters ?? [], Number.POSITIVE_INFINITY).flatMap(
      ({ title, startSeconds }, i): [string, string][] => {
        const key = `CHAPTER${String(i + 1).padStart(3, '0')}`;
        return [
          [key, clock(startSeconds)],
          [`${key}NAME`, title],
        ];
      },
    ),
    ...more,
  ];
  const texts = [
    notes.software,
    ...fields.filter(([, value]) => value !== undefined).map(([name, value]) => `${name}=${value}`),
  ].map((text) => new TextEncoder().encode(text));
  const bytes = new Uint8Array(4 + texts.reduce((sum, { length }) => sum + 4 + length, 0));
  const view = new DataView(bytes.buffer);
  let at = 0;
  texts.forEach((text, i) => {
    view.setUint32(at, text.length, true);
    bytes.set(text, at + 4);
    at += 4 + text.length;
    // the vendor comes first, then the number of comments
    if (i === 0) {
      view.setUint32(at, texts.length - 1, true);
      at += 4;
    }
  });
  return bytes;
}
