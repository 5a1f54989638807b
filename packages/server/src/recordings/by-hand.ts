import type { Mark, RecipeInput } from '@tonos/contract';
import type { TimeCut } from '@tonos/core';
import type { MarkedByHand } from '@tonos/render';
import { In, IsNull, type Repository } from 'typeorm';
import type { BlobStore } from '../storage/blob-store.ts';
import type { RecordingEntity } from './recording-entity.ts';

type Marked = RecipeInput['marked'];
type PickUps = NonNullable<RecipeInput['pickUps']>;

/** A place that only holds a note is seen to by people: nothing that is rendered hangs on it. */
export const isOnlyNote = ({ note, chapter, startSeconds, endSeconds }: Mark): boolean =>
  note !== undefined && !chapter && startSeconds === endSeconds;

/** Of what people marked in a recording, what its renders hang on. */
export const markedOf = ({
  marks,
  roomToneChoice,
  boxes,
  cuts,
}: Pick<RecordingEntity, 'marks' | 'roomToneChoice' | 'boxes' | 'cuts'>): Marked => ({
  marks: marks.filter((mark) => !isOnlyNote(mark)).map(({ note: _, ...mark }) => mark),
  roomToneChoice,
  boxes,
  // recipes of before there were cuts stay the same
  ...(cuts.length ? { cuts } : {}),
});

/** The files of the recordings that pick-ups come from; those that are gone are left out. */
export async function pickUpsOf(
  recordings: Pick<Repository<RecordingEntity>, 'find'>,
  cuts: readonly TimeCut[],
): Promise<PickUps> {
  const ids = [...new Set(cuts.flatMap((cut) => (cut.kind === 'pick-up' ? [cut.recordingId] : [])))];
  if (!ids.length) return {};
  const found = await recordings.find({
    where: { id: In(ids), removedAt: IsNull() },
    select: { id: true, name: true, sha256: true },
  });
  return Object.fromEntries(found.map(({ id, name, sha256 }) => [id, { name, sha256 }]));
}

/** As jobs take it. */
export const byHandOf = (
  { marks, roomToneChoice, boxes, cuts = [] }: Marked,
  pickUps: PickUps,
  store: Pick<BlobStore, 'pathOf'>,
): MarkedByHand => ({
  boxes,
  roomTone: roomToneChoice,
  marks,
  cuts,
  pickUps: Object.fromEntries(
    Object.entries(pickUps).map(([id, { name, sha256 }]) => [id, { name, path: store.pathOf(sha256) }]),
  ),
});
