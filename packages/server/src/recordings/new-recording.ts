import { NO_CHOICE } from '@tonos/core';
import { IsNull, type Repository } from 'typeorm';
import { caller, isByItself } from '../http/caller.ts';
import { notFound } from '../http/problems.ts';
import type { Surroundings } from '../surroundings.ts';
import type { ReceivedFile } from './receive-files.ts';
import type { RecordingEntity } from './recording-entity.ts';

/** A file that comes in: behind the last one, or as a new take in the place of an old one. */
interface Coming {
  titleId: string;
  file: ReceivedFile;
  position: number;
  old: RecordingEntity | null;
}

/** What a file becomes. A new take keeps the place and the labels of the old one; its marks would name other moments. */
export function newRecording({ titleId, file, position, old }: Coming, surroundings: Surroundings) {
  const { id: given, name, sha256, sizeBytes, personId } = file;
  const id = given ?? surroundings.newId();
  return {
    id,
    titleId,
    name,
    position: old?.position ?? position,
    givenName: old?.givenName ?? '',
    kind: old?.kind ?? ('voice' as const),
    licence: old?.licence ?? '',
    loop: null,
    version: 1,
    status: 'measuring' as const,
    speaker: old?.speaker ?? '',
    microphone: old?.microphone ?? '',
    room: old?.room ?? '',
    trashedAt: null,
    removedAt: null,
    takeOf: old?.takeOf ?? id,
    superseded: false,
    tags: {},
    marks: [],
    roomToneChoice: NO_CHOICE,
    boxes: [],
    cuts: [],
    adjustments: old?.adjustments ?? {},
    frozen: old?.frozen ?? {},
    sha256,
    sizeBytes,
    measurement: null,
    error: null,
    createdAt: surroundings.now(),
    personId: personId ?? (isByItself() ? null : caller().personId),
  };
}

/** What a file may take the place of. @throws HttpProblem 404 where it is no recording of this title, or was removed for good */
export async function replaceable(
  recordings: Pick<Repository<RecordingEntity>, 'findOneBy'>,
  titleId: string,
  id: string,
): Promise<RecordingEntity> {
  const there = await recordings.findOneBy({ id, titleId, removedAt: IsNull() });
  if (!there) throw notFound('recording of this title', id);
  return there;
}
