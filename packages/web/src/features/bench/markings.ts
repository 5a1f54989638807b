import type { Mark, Recording } from '@tonos/contract';
import { cutFaults, overlaps, type SpectralBox, spanOf, type TimeCut, type TimeSpan } from '@tonos/core';

/** What people mark in a recording. Every change is a new one of these: that is what undo goes back through. */
export interface Markings {
  marks: Mark[];
  roomToneChoice: Recording['roomToneChoice'];
  boxes: SpectralBox[];
  cuts: TimeCut[];
}

/** A stretch that is chosen in the plate; in the spectrogram with its frequencies. */
export interface Selection extends TimeSpan {
  lowHz?: number;
  highHz?: number;
}

export const isBox = (selection: Selection): selection is Required<Selection> => selection.lowHz !== undefined;

export const markingsOf = ({ marks, roomToneChoice, boxes, cuts }: Recording): Markings => ({
  marks,
  roomToneChoice,
  boxes,
  cuts,
});

const byTime = <T extends TimeSpan>(spans: readonly T[]): T[] =>
  [...spans].sort((a, b) => a.startSeconds - b.startSeconds || a.endSeconds - b.endSeconds);

export function withMark(markings: Markings, { startSeconds, endSeconds }: TimeSpan, id: string): Markings {
  const number = markings.marks.length + 1;
  const name = `${endSeconds > startSeconds ? 'Range' : 'Place'} ${number}`;
  return { ...markings, marks: byTime([...markings.marks, { id, name, startSeconds, endSeconds }]) };
}

/** A place with what somebody has to say of it. */
export function withNote(markings: Markings, seconds: number, text: string, id: string): Markings {
  const note = { text, state: 'open' as const, by: '' };
  return {
    ...markings,
    marks: byTime([...markings.marks, { id, name: 'Note', startSeconds: seconds, endSeconds: seconds, note }]),
  };
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

export const withBox = (markings: Markings, box: SpectralBox, id: string): Markings => ({
  ...markings,
  boxes: byTime([...markings.boxes, { ...box, id }]),
});

export const withBoxChanged = (markings: Markings, box: SpectralBox, change: Partial<SpectralBox>): Markings => ({
  ...markings,
  boxes: markings.boxes.map((one) => (one === box ? { ...box, ...change } : one)),
});

export const withoutBox = (markings: Markings, box: SpectralBox): Markings => ({
  ...markings,
  boxes: markings.boxes.filter((one) => one !== box),
});

/** A cut as it is made: the server knows it by its id. */
export type NewCut = TimeCut & { id: string };

const inTime = (cuts: readonly TimeCut[]): TimeCut[] =>
  [...cuts].sort((a, b) => spanOf(a).startSeconds - spanOf(b).startSeconds);

/**
 * With some cuts, each in the place of the one of its id.
 * @returns why that can't be, where it can't
 */
export function withCuts(markings: Markings, cuts: readonly NewCut[], seconds: number): Markings | string {
  const ids = new Set(cuts.map(({ id }) => id as string | undefined));
  const all = inTime([...markings.cuts.filter(({ id }) => !ids.has(id)), ...cuts]);
  const faults = cutFaults(all, seconds);
  return faults.length ? faults.join(' ') : { ...markings, cuts: all };
}

export const withoutCut = (markings: Markings, id: string | undefined): Markings => ({
  ...markings,
  cuts: markings.cuts.filter((cut) => cut.id !== id),
});

/** Room tone over every range of a name, where it is not cut already. */
export function roomToneOver({ marks, cuts }: Markings, name: string, newId: () => string): NewCut[] {
  const ranges = marks.filter((mark) => mark.name === name && mark.endSeconds > mark.startSeconds);
  return coversOf(ranges, cuts, newId);
}

/** Room tone over some stretches, where they are not cut already. */
export const coversOf = (spans: readonly TimeSpan[], cuts: readonly TimeCut[], newId: () => string): NewCut[] =>
  spans
    .filter((span) => !cuts.some((cut) => cut.on && overlaps(spanOf(cut), span)))
    .map(({ startSeconds, endSeconds }) => ({ kind: 'room-tone', id: newId(), on: true, startSeconds, endSeconds }));

/** What an act does to the parts of one list, by their ids. */
interface PartsChange<Part> {
  put: Part[];
  removed: string[];
}

/** What an act does to what is marked; null where it leaves room tone alone. */
export interface MarkingsChange {
  marks: PartsChange<Mark>;
  boxes: PartsChange<SpectralBox>;
  cuts: PartsChange<TimeCut>;
  roomTone: Record<'use' | 'never', { put: TimeSpan[]; removed: TimeSpan[] }> | null;
}

const same = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

function partsBetween<Part extends { id?: string }>(
  before: readonly Part[],
  after: readonly Part[],
): PartsChange<Part> {
  const there = new Map(before.map((part) => [part.id, part]));
  const kept = new Set(after.map((part) => part.id));
  return {
    put: after.filter((part) => !same(there.get(part.id), part)),
    removed: before.flatMap((part) => (kept.has(part.id) ? [] : [part.id!])),
  };
}

const spansBetween = (before: readonly TimeSpan[], after: readonly TimeSpan[]) => ({
  put: after.filter((span) => !before.some((one) => same(one, span))),
  removed: before.filter((span) => !after.some((one) => same(one, span))),
});

/** What leads from one to the other. */
export function changesBetween(before: Markings, after: Markings): MarkingsChange {
  const [was, is] = [before.roomToneChoice, after.roomToneChoice];
  return {
    marks: partsBetween(before.marks, after.marks),
    boxes: partsBetween(before.boxes, after.boxes),
    cuts: partsBetween(before.cuts, after.cuts),
    roomTone: same(was, is) ? null : { use: spansBetween(was.use, is.use), never: spansBetween(was.never, is.never) },
  };
}

const withParts = <Part extends { id?: string }>(parts: readonly Part[], { put, removed }: PartsChange<Part>) => [
  ...parts.filter(({ id }) => !removed.includes(id!) && !put.some((one) => one.id === id)),
  ...put,
];

const withSpans = (spans: readonly TimeSpan[], change: { put: TimeSpan[]; removed: TimeSpan[] } | undefined) =>
  change
    ? byTime([
        ...spans.filter((span) => ![...change.removed, ...change.put].some((one) => same(one, span))),
        ...change.put,
      ])
    : [...spans];

/** P17: a change made on what stands, which others may have changed meanwhile: only what it names is touched. */
export const withChange = ({ marks, boxes, cuts, roomToneChoice }: Markings, change: MarkingsChange): Markings => ({
  marks: byTime(withParts(marks, change.marks)),
  boxes: byTime(withParts(boxes, change.boxes)),
  cuts: inTime(withParts(cuts, change.cuts)),
  roomToneChoice: {
    use: withSpans(roomToneChoice.use, change.roomTone?.use),
    never: withSpans(roomToneChoice.never, change.roomTone?.never),
  },
});
