import type { Mark, Recording } from '@tonos/contract';
import { overlaps, type SpectralBox, type TimeSpan } from '@tonos/core';

/** What people mark in a recording. Every change is a new one of these: that is what undo goes back through. */
export interface Markings {
  marks: Mark[];
  roomToneChoice: Recording['roomToneChoice'];
  boxes: SpectralBox[];
}

/** A stretch that is chosen in the plate; in the spectrogram with its frequencies. */
export interface Selection extends TimeSpan {
  lowHz?: number;
  highHz?: number;
}

export const isBox = (selection: Selection): selection is Required<Selection> => selection.lowHz !== undefined;

export const markingsOf = ({ marks, roomToneChoice, boxes }: Recording): Markings => ({ marks, roomToneChoice, boxes });

const byTime = <T extends TimeSpan>(spans: readonly T[]): T[] =>
  [...spans].sort((a, b) => a.startSeconds - b.startSeconds || a.endSeconds - b.endSeconds);

export function withMark(markings: Markings, { startSeconds, endSeconds }: TimeSpan, id: string): Markings {
  const number = markings.marks.length + 1;
  const name = `${endSeconds > startSeconds ? 'Range' : 'Place'} ${number}`;
  return { ...markings, marks: byTime([...markings.marks, { id, name, startSeconds, endSeconds }]) };
}

/** Ends that are moved past each other change places. */
export function withMarkChanged(markings: Markings, id: string, change: Partial<Mark>): Markings {
  const changed = markings.marks.map((mark) => {
    if (mark.id !== id) return mark;
    const { startSeconds, endSeconds, ...rest } = { ...mark, ...change };
    return {
      ...rest,
      startSeconds: Math.min(startSeconds, endSeconds),
      endSeconds: Math.max(startSeconds, endSeconds),
    };
  });
  return { ...markings, marks: byTime(changed) };
}

export const withoutMark = (markings: Markings, id: string): Markings => ({
  ...markings,
  marks: markings.marks.filter((mark) => mark.id !== id),
});

/** A stretch is room tone or is not: what was said of it before is taken back. */
export function withRoomTone(
  { roomToneChoice, ...rest }: Markings,
  { startSeconds, endSeconds }: TimeSpan,
  said: 'use' | 'never',
): Markings {
  const span = { startSeconds, endSeconds };
  const kept = (spans: readonly TimeSpan[]) => spans.filter((one) => !overlaps(one, span));
  const { use, never } = { use: kept(roomToneChoice.use), never: kept(roomToneChoice.never) };
  return {
    ...rest,
    roomToneChoice: said === 'use' ? { use: byTime([...use, span]), never } : { use, never: byTime([...never, span]) },
  };
}

export const withoutRoomTone = ({ roomToneChoice, ...rest }: Markings, span: TimeSpan): Markings => ({
  ...rest,
  roomToneChoice: {
    use: roomToneChoice.use.filter((one) => one !== span),
    never: roomToneChoice.never.filter((one) => one !== span),
  },
});

export const withBox = (markings: Markings, box: SpectralBox): Markings => ({
  ...markings,
  boxes: byTime([...markings.boxes, box]),
});

export const withBoxChanged = (markings: Markings, box: SpectralBox, change: Partial<SpectralBox>): Markings => ({
  ...markings,
  boxes: markings.boxes.map((one) => (one === box ? { ...box, ...change } : one)),
});

export const withoutBox = (markings: Markings, box: SpectralBox): Markings => ({
  ...markings,
  boxes: markings.boxes.filter((one) => one !== box),
});
