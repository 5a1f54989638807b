import type { Picture } from './picture.ts';

/** What a delivery says of itself besides its sound; every container writes it in its own way. */
export interface DeliveryNotes {
  /** Name and version of what wrote it. */
  software: string;
  title?: string;
  artist?: string;
  album?: string;
  track?: number;
  trackTotal?: number;
  /** ISO 8601, UTC. Part of the recipe, so that rendering again gives the same bytes. */
  date?: string;
  /** Where the source's first sample lies in the day. */
  timeReferenceSeconds?: number;
  /** SHA-256 of the recipe that it was rendered from. */
  recipeSha256?: string;
  /** Who wrote it. */
  authors?: string;
  /** Who reads or hosts it. */
  voices?: string;
  publisher?: string;
  /** When it came out. */
  year?: number;
  /** BCP 47. */
  language?: string;
  series?: string;
  /** Its number in the series. */
  seriesNumber?: string;
  description?: string;
  copyright?: string;
  chapters?: readonly DeliveryChapter[];
  picture?: Picture;
}

export interface DeliveryChapter {
  title: string;
  startSeconds: number;
}

/** In order, each lasting until the next one or the end; what begins after the end is left out. */
export function chapterSpans(
  chapters: readonly DeliveryChapter[],
  durationSeconds: number,
): { title: string; startSeconds: number; endSeconds: number }[] {
  const sorted = chapters
    .filter(({ startSeconds }) => startSeconds < durationSeconds)
    .sort((a, b) => a.startSeconds - b.startSeconds);
  return sorted.map(({ title, startSeconds }, i) => ({
    title,
    startSeconds,
    endSeconds: sorted[i + 1]?.startSeconds ?? durationSeconds,
  }));
}
