/** What a file says of itself besides its sound. Empty where it says nothing. */
export interface Tags {
  title?: string;
  artist?: string;
  track?: number;
  description?: string;
  originator?: string;
  /** The first sample's time of day, as recorders write it. */
  timeReferenceSeconds?: number;
  scene?: string;
  take?: string;
}

/** A named place or range in a file. */
export interface FileMark {
  name: string;
  startSeconds: number;
  /** Equal to the start for a place. */
  endSeconds: number;
}

export interface FileNotes {
  tags: Tags;
  marks: FileMark[];
}

/** Text from outside: no control characters, of a sensible length; undefined where nothing is left. */
export function cleanText(text: string | undefined): string | undefined {
  const clean = text
    ?.replace(/\p{Cc}/gu, ' ')
    .trim()
    .slice(0, 500);
  return clean || undefined;
}

/** "7", "07/12" -> 7 */
export function trackNumber(text: string | undefined): number | undefined {
  const number = Number.parseInt(text ?? '', 10);
  return number > 0 && number < 100_000 ? number : undefined;
}

/** Only what is there. */
export const withoutGaps = (tags: Tags): Tags =>
  Object.fromEntries(Object.entries(tags).filter(([, value]) => value !== undefined));
