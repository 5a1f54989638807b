import { plainFigure, resultSecondsOf, spanOf, type TimeCut } from '@tonos/core';
import { clock } from '../../ui/time.ts';

const NAMES: Record<TimeCut['kind'], string> = {
  'take-out': 'Taken out',
  'room-tone': 'Room tone',
  pause: 'Pause',
  'pick-up': 'Pick-up',
};

export const cutKindName = ({ kind }: Pick<TimeCut, 'kind'>): string => NAMES[kind];

const seconds = (value: number) => `${plainFigure(Math.round(value * 1000) / 1000)} s`;

/** What it does to the length. */
export function cutLengthText(cut: TimeCut): string {
  const { startSeconds, endSeconds } = spanOf(cut);
  const by = Math.round((resultSecondsOf(cut) - (endSeconds - startSeconds)) * 1000) / 1000;
  if (by === 0) return 'as long';
  return by < 0 ? `${seconds(-by)} shorter` : `${seconds(by)} longer`;
}

/** Short, for a lane. */
export const cutLabel = (cut: TimeCut): string =>
  cut.kind === 'pause' ? `Pause ${seconds(cut.lengthSeconds)}` : cutKindName(cut);

export const cutHint = (cut: TimeCut): string =>
  `${cutKindName(cut)} at ${clock(spanOf(cut).startSeconds, 2)}, ${cutLengthText(cut)}`;
