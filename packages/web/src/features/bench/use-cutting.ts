import { nanoid } from '@reduxjs/toolkit';
import type { Recording } from '@tonos/contract';
import { type Measurement, spanOf, type TimeCut, type TimeSpan } from '@tonos/core';
import { useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { sayError } from '../../ui/notify.ts';
import { coversOf, type NewCut, roomToneOver, type Selection, withCuts, withoutCut } from './markings.ts';
import { firstOf, pickUpFrom } from './pick-up-choice.ts';
import type { Marking } from './use-markings.ts';

const NEW_PAUSE_SECONDS = 1;

export interface Cutting {
  cuts: readonly TimeCut[];
  /** Whether the recording is heard, and seen, as it was recorded. */
  uncut: boolean;
  setUncut(uncut: boolean): void;
  chosen: TimeCut | undefined;
  choose(id: string | undefined): void;
  takeOut(span: TimeSpan): void;
  cover(span: TimeSpan): void;
  /** Room tone over every range of a name. */
  coverAll(name: string): void;
  /** Room tone over some stretches. */
  coverThese(spans: readonly TimeSpan[]): void;
  /** Absent where the title has no other recording that could be read. */
  pickUp?: (span: TimeSpan) => void;
  pause(seconds: number): void;
  change(cut: TimeCut, to: Partial<TimeCut>): void;
  move(cut: TimeCut, span: TimeSpan): void;
  remove(cut: TimeCut): void;
}

/** The cuts of a recording: made, changed and taken back as any marking is. */
export function useCutting(
  recording: Recording,
  { durationSeconds }: Measurement,
  { present, change }: Marking,
  others: readonly Recording[],
): Cutting {
  const [uncut, setUncut] = useState(false);
  const [chosenId, choose] = useState<string>();
  const { cuts } = present;
  useHotkeys('u', () => setUncut(!uncut));
  const put = (...made: NewCut[]) => {
    const next = withCuts(present, made, durationSeconds);
    if (typeof next === 'string') sayError(`${recording.name} was not cut`, new Error(next));
    else change(next);
  };
  const made = <Cut extends Omit<NewCut, 'id' | 'on'>>(cut: Cut) =>
    put({ ...cut, id: nanoid(10), on: true } as unknown as NewCut);
  const altered = (cut: TimeCut, to: Partial<TimeCut>) => put({ ...cut, ...to } as NewCut);
  const stretch = ({ startSeconds, endSeconds }: TimeSpan) => ({ startSeconds, endSeconds });
  const other = firstOf(others);
  return {
    cuts,
    uncut,
    setUncut,
    chosen: cuts.find(({ id }) => id === chosenId),
    choose,
    takeOut: (span) => made({ kind: 'take-out', ...stretch(span) }),
    cover: (span) => made({ kind: 'room-tone', ...stretch(span) }),
    coverAll: (name) => put(...roomToneOver(present, name, () => nanoid(10))),
    coverThese: (spans) => put(...coversOf(spans, cuts, () => nanoid(10))),
    ...(other && { pickUp: (span) => made({ kind: 'pick-up', ...stretch(span), ...pickUpFrom(other, span) }) }),
    pause: (atSeconds) => made({ kind: 'pause', atSeconds, lengthSeconds: NEW_PAUSE_SECONDS }),
    change: altered,
    move: (cut, span) => altered(cut, cut.kind === 'pause' ? { atSeconds: span.startSeconds } : stretch(span)),
    remove: (cut) => change(withoutCut(present, cut.id)),
  };
}

/** Whether a choice differs from where a cut lies. */
export const isElsewhere = (cut: TimeCut, { startSeconds, endSeconds }: Selection): boolean => {
  const span = spanOf(cut);
  return span.startSeconds !== startSeconds || (cut.kind !== 'pause' && span.endSeconds !== endSeconds);
};
