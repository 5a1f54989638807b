import type { Recording } from '@tonos/contract';
import { COMPLAINTS, type Measurement } from '@tonos/core';
import { otherWarnings } from '../../ui/complaint-text.ts';
import { compared, type Sortable } from '../../ui/table/use-ledger-table.ts';

/** What a recording is sorted by, by the column that shows it. */
export const SORT_VALUES = {
  position: ({ position }) => position,
  name: ({ name, givenName }) => givenName || name,
  length: ({ measurement }) => measurement?.durationSeconds,
  loudness: ({ measurement }) => measurement?.integratedLufs,
  truePeak: ({ measurement }) => measurement?.truePeakDbtp,
  floor: ({ measurement }) => measurement?.noiseFloorDbfs,
  warnings: ({ measurement, status }) =>
    status === 'unreadable' ? 99 : measurement && complaintsOf(measurement).length,
} as const satisfies Readonly<Record<string, (recording: Recording) => Sortable>>;

/** In words, with warnings that say something else. */
const complaintsOf = (measurement: Measurement): string[] => [
  ...measurement.complaints.map(({ code }) => `${COMPLAINTS[code].title} ${code.replaceAll('-', ' ')}`),
  ...otherWarnings(measurement).map(({ code }) => code.replaceAll('-', ' ')),
];

/** Sorted by a name, whose numbers count as numbers, or by a number. What is equal keeps its order. */
export const inOrder = <T>(items: readonly T[], by: (item: T) => string | number): T[] =>
  items.toSorted((one, other) => compared(by(one), by(other)));

/** Every word of what was typed stands in the name, a tag, a label, a complaint or the file's facts. */
export function filterRecordings(recordings: readonly Recording[], typed: string): readonly Recording[] {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  if (!words.length) return recordings;
  return recordings.filter(({ name, givenName, speaker, microphone, room, status, measurement, tags }) => {
    const facts = measurement
      ? `${measurement.container} ${measurement.codec} ${complaintsOf(measurement).join(' ')}`
      : '';
    const text =
      `${name} ${givenName} ${tags?.title ?? ''} ${tags?.artist ?? ''} ${speaker} ${microphone} ${room} ${status} ${facts}`.toLowerCase();
    return words.every((word) => text.includes(word));
  });
}

/** What all of them share of a label; undefined where it varies. */
export const sharedLabel = (
  recordings: readonly Recording[],
  label: 'speaker' | 'microphone' | 'room',
): string | undefined =>
  recordings.every((one) => one[label] === recordings[0][label]) ? recordings[0]?.[label] : undefined;
