import type { OthersDraft } from '@tonos/contract';
import type { EntityManager } from 'typeorm';
import type { Database } from '../database/database.ts';
import { caller } from '../http/caller.ts';
import { PersonEntity } from '../people/person-entity.ts';
import { DraftEntity } from './draft-entity.ts';

type Thing = DraftEntity['thing'];

/** Who asks has this draft of it, if any: one's own, and nobody else's. */
export function ownDraft(
  manager: Pick<EntityManager, 'findOneBy'>,
  thing: Thing,
  thingId: string,
): Promise<DraftEntity | null> {
  return manager.findOneBy(DraftEntity, { thing, thingId, personId: caller().personId });
}

/** What of each thing is one's own work in progress, and what is others'. */
export interface DraftsOf<Content> {
  own: (thingId: string) => { content: Content | null; version: number; changedAt: string } | null;
  others: (thingId: string) => OthersDraft[];
}

/** All drafts of a kind, read at once. @param thingId only of this one */
export async function draftsOf<Content>(
  database: Database,
  thing: Thing,
  thingId?: string,
): Promise<DraftsOf<Content>> {
  const all = await database.of(DraftEntity).findBy({ thing, ...(thingId !== undefined && { thingId }) });
  const people = all.length
    ? await database.of(PersonEntity).find({ select: { id: true, name: true, leftAt: true } })
    : [];
  const there = new Map(people.filter(({ leftAt }) => leftAt === null).map(({ id, name }) => [id, { id, name }]));
  const { personId } = caller();
  return {
    own: (id) =>
      (all.find((draft) => draft.thingId === id && draft.personId === personId) as
        | { content: Content | null; version: number; changedAt: string }
        | undefined) ?? null,
    others: (id) =>
      all.flatMap((draft) => {
        const person = there.get(draft.personId);
        const isOthers = draft.thingId === id && draft.personId !== personId && draft.content !== null;
        return isOthers && person ? [{ person, changedAt: draft.changedAt }] : [];
      }),
  };
}
