import type { Recording } from '@tonos/contract';
import { COMPLAINTS, type Measurement } from '@tonos/core';
import { otherWarnings } from '../../ui/complaint-text.ts';

export const SORT_KEYS = ['position', 'name', 'length', 'loudness', 'truePeak', 'floor', 'level', 'warnings'] as const;
export type SortKey = (typeof SORT_KEYS)[number];

export interface Sorting {
  key: SortKey;
  descending: boolean;
}

type Sortable = string | number | null | undefined;

const VALUES: Readonly<Record<SortKey, (recording: Recording) => Sortable>> = {
  position: ({ position }) => position,
  name: ({ name, givenName }) => givenName || name,
  length: ({ measurement }) => measurement?.durationSeconds,
  loudness: ({ measurement }) => measurement?.integratedLufs,
  truePeak: ({ measurement }) => measurement?.truePeakDbtp,
  floor: ({ measurement }) => measurement?.noiseFloorDbfs,
  level: ({ measurement }) => measurement?.rmsDbfs,
  warnings: ({ measurement, status }) =>
    status === 'unreadable' ? 99 : measurement && complaintsOf(measurement).length,
};

/** In words, with warnings that say something else. */
const complaintsOf = (measurement: Measurement): string[] => [
  ...measurement.complaints.map(({ code }) => `${COMPLAINTS[code].title} ${code.replaceAll('-', ' ')}`),
  ...otherWarnings(measurement).map(({ code }) => code.replaceAll('-', ' ')),
];

const collator = new Intl.Collator('en', { numeric: true, sensitivity: 'base' });

/** Sorted by a name, whose numbers count as numbers, or by a number. What is equal keeps its order. */
export const inOrder = <T>(items: readonly T[], by: (item: T) => string | number): T[] =>
  items.toSorted((one, other) => {
    const [a, b] = [by(one), by(other)];
    return typeof a === 'string' ? collator.compare(a, String(b)) : a === b ? 0 : a - Number(b);
  });

/** Numbers in names count as numbers; what has no value comes last either way. */
export function sortRecordings(recordings: readonly Recording[], { key, descending }: Sorting): Recording[] {
  const sortValue = VALUES[key];
  return recordings.toSorted((one, other) => {
    const [a, b] = [sortValue(one), sortValue(other)];
    if (a === null || a === undefined || b === null || b === undefined)
      return Number(a === null || a === undefined) - Number(b === null || b === undefined);
    const order = typeof a === 'string' ? collator.compare(a, String(b)) : a - Number(b);
    return (descending ? -order : order) || one.position - other.position;
  });
}

/** Every word of what was typed stands in the name, a tag, a label, a complaint or the file's facts. */
export function filterRecordings(recordings: readonly Recording[], typed: string): Recording[] {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
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
