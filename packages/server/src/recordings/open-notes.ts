import type { Mark } from '@tonos/contract';
import type { Repository } from 'typeorm';
import type { RecordingEntity } from './recording-entity.ts';

export interface OpenNote {
  markId: string;
  atSeconds: number;
  text: string;
  by: string;
  at: string;
}

/** What of a recording's notes nobody has seen to. */
export const openNotesOf = ({ marks }: { marks: readonly Mark[] }): OpenNote[] =>
  marks.flatMap(({ id, startSeconds, note }) =>
    note?.state === 'open'
      ? [{ markId: id, atSeconds: startSeconds, text: note.text, by: note.by, at: note.at ?? '' }]
      : [],
  );

/** Current recordings with open notes, in the order of their titles. */
export async function withOpenNotes(
  recordings: Pick<Repository<RecordingEntity>, 'createQueryBuilder'>,
): Promise<(Pick<RecordingEntity, 'id' | 'titleId' | 'name' | 'givenName'> & { notes: OpenNote[] })[]> {
  const found = await recordings
    .createQueryBuilder('recording')
    .select(['recording.id', 'recording.titleId', 'recording.name', 'recording.givenName', 'recording.marks'])
    .where('recording.trashedAt IS NULL AND NOT recording.superseded')
    // most recordings have none, and their marks are not read
    .andWhere(`instr(recording.marks, '"state":"open"') > 0`)
    .orderBy('recording.titleId')
    .addOrderBy('recording.position')
    .getMany();
  return found.map((one) => ({ ...one, notes: openNotesOf(one) }));
}
