import { chapterSpans, type DeliveryChapter } from '@tonos/formats';

/** Podcasting 2.0, JSON chapters 1.2. */
export const chaptersJson = (chapters: readonly DeliveryChapter[], durationSeconds: number): string =>
  `${JSON.stringify(
    {
      version: '1.2.0',
      chapters: chapterSpans(chapters, durationSeconds).map(({ title, startSeconds, endSeconds }) => ({
        startTime: Math.round(startSeconds * 1000) / 1000,
        endTime: Math.round(endSeconds * 1000) / 1000,
        title,
      })),
    },
    undefined,
    2,
  )}\n`;

const FRAMES_PER_SECOND = 75;

/** Minutes, seconds and frames of a 75th of a second, as cue sheets count. */
function cueTime(seconds: number): string {
  const frames = Math.round(seconds * FRAMES_PER_SECOND);
  const two = (value: number) => String(value).padStart(2, '0');
  return `${two(Math.floor(frames / (60 * FRAMES_PER_SECOND)))}:${two(Math.floor(frames / FRAMES_PER_SECOND) % 60)}:${two(frames % FRAMES_PER_SECOND)}`;
}

const quoted = (text: string): string => `"${text.replace(/["\r\n]/g, "'")}"`;

interface CueNames {
  fileName: string;
  title: string;
  performer?: string;
}

/** A cue sheet: a track for each chapter. It has room for 99. */
export function cueSheet(
  { fileName, title, performer }: CueNames,
  chapters: readonly DeliveryChapter[],
  durationSeconds: number,
): string {
  const kind = fileName.toLowerCase().endsWith('.mp3') ? 'MP3' : 'WAVE';
  const tracks = chapterSpans(chapters, durationSeconds)
    .slice(0, 99)
    .flatMap((chapter, i) => [
      `  TRACK ${String(i + 1).padStart(2, '0')} AUDIO`,
      `    TITLE ${quoted(chapter.title)}`,
      `    INDEX 01 ${cueTime(chapter.startSeconds)}`,
    ]);
  const head = [
    ...(performer ? [`PERFORMER ${quoted(performer)}`] : []),
    `TITLE ${quoted(title)}`,
    `FILE ${quoted(fileName)} ${kind}`,
  ];
  return `${[...head, ...tracks].join('\r\n')}\r\n`;
}
