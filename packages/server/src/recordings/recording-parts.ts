import { type Mark, MOST_BOXES, MOST_MARKS } from '@tonos/contract';
import { cutFaults, MOST_CUTS, type SpectralBox, spanOf, type TimeCut } from '@tonos/core';
import { HttpProblem, notFound } from '../http/problems.ts';
import { describe } from './describe-recording.ts';
import type { RecordingEntity } from './recording-entity.ts';

/** What a recording has many of, each changed by its id. */
export interface Parts {
  marks: Mark;
  boxes: SpectralBox;
  cuts: TimeCut;
}
export type PartKind = keyof Parts;

const PARTS: Record<PartKind, { one: string; most: number }> = {
  marks: { one: 'mark', most: MOST_MARKS },
  boxes: { one: 'box', most: MOST_BOXES },
  cuts: { one: 'cut', most: MOST_CUTS },
};

const partsOf = (recording: RecordingEntity, kind: PartKind): readonly Parts[PartKind][] => describe(recording)[kind];

export const startOf = (part: Parts[PartKind]): number =>
  'startSeconds' in part ? part.startSeconds : spanOf(part).startSeconds;

/** @throws HttpProblem 422 that names what does not fit */
export function checkCutsOf({ name, measurement }: RecordingEntity, cuts: readonly TimeCut[]): void {
  const faults = cutFaults(cuts, measurement?.durationSeconds);
  if (faults.length) throw new HttpProblem(422, 'bad-cuts', `${name}: ${faults.join(' ')}`, { faults });
}

/** A recording's list with one part put under its id. @throws HttpProblem 422 where there are too many, or it does not fit */
export function withPart<Kind extends PartKind>(
  recording: RecordingEntity,
  kind: Kind,
  own: Parts[Kind],
): Partial<RecordingEntity> {
  const others = partsOf(recording, kind).filter((one) => one.id !== own.id);
  const { most } = PARTS[kind];
  if (others.length >= most)
    throw new HttpProblem(422, 'too-many', `${recording.name} has ${most} ${kind} already. Take some away first.`);
  const parts = [...others, own].sort((a, b) => startOf(a) - startOf(b));
  if (kind === 'cuts') checkCutsOf(recording, parts as TimeCut[]);
  return { [kind]: parts };
}

/** The list without one. @throws HttpProblem 404 */
export function withoutPart(recording: RecordingEntity, kind: PartKind, id: string): Partial<RecordingEntity> {
  const parts = partsOf(recording, kind);
  if (!parts.some((one) => one.id === id)) throw notFound(PARTS[kind].one, id);
  return { [kind]: parts.filter((one) => one.id !== id) };
}
