import type { EntityManager, EntityTarget } from 'typeorm';
import { caller } from '../http/caller.ts';
import { HttpProblem } from '../http/problems.ts';
import { checkVersion } from '../http/version-header.ts';
import { DraftEntity } from './draft-entity.ts';
import { ownDraft } from './drafts.ts';
import type { RevisedEntity } from './revised-entity.ts';

/** What somebody who changes something with revisions saw of it. */
export interface Seen {
  /** The version that the change was made on. */
  version?: number;
  /** The revision that it started from. */
  basedOn?: number;
}

/** What is changed: a row of its kind, looked at by who changes it. */
export interface Revised<Row extends RevisedEntity> {
  thing: DraftEntity['thing'];
  entity: EntityTarget<Row>;
  row: Row;
}

/** The version that a person sees counts the revisions and their own draft: what a colleague tries out does not change it. */
export const versionFor = ({ version }: RevisedEntity, draft: Pick<DraftEntity, 'version'> | null): number =>
  version + (draft?.version ?? 0);

/**
 * Writes a new revision as the next version; one's own draft ends with it.
 * @throws HttpProblem 412 with the draft that stands where it was changed meanwhile, 409 where there is a newer revision
 */
export async function changeRevised<Row extends RevisedEntity>(
  manager: EntityManager,
  { thing, entity, row }: Revised<Row>,
  seen: Seen,
  change: Partial<Row>,
): Promise<void> {
  const draft = await ownDraft(manager, thing, row.id);
  checkSeen(row, draft, seen);
  await manager.save(entity, { ...row, ...change, version: row.version + 1 });
  if (draft?.content) await manager.save(DraftEntity, { ...draft, content: null });
}

/** Keeps one's own work in progress. @returns whether it began with that */
export async function saveDraftOf<Row extends RevisedEntity>(
  manager: EntityManager,
  { thing, row }: Revised<Row>,
  seen: Seen,
  content: NonNullable<DraftEntity['content']>,
): Promise<boolean> {
  const draft = await ownDraft(manager, thing, row.id);
  checkSeen(row, draft, seen);
  const { changedAt } = content;
  const begins = !draft?.content;
  await manager.save(DraftEntity, {
    thing,
    thingId: row.id,
    personId: caller().personId,
    content,
    version: (draft?.version ?? 0) + 1,
    since: begins ? changedAt : draft.since,
    changedAt,
  });
  return begins;
}

/** @returns the version without it */
export async function dropDraftOf<Row extends RevisedEntity>(
  manager: EntityManager,
  { thing, row }: Revised<Row>,
  version: number | undefined,
): Promise<number> {
  const draft = await ownDraft(manager, thing, row.id);
  checkSeen(row, draft, { version });
  if (!draft?.content) return versionFor(row, draft);
  const dropped = { ...draft, content: null, version: draft.version + 1 };
  await manager.save(DraftEntity, dropped);
  return versionFor(row, dropped);
}

function checkSeen(row: RevisedEntity, draft: DraftEntity | null, seen: Seen): void {
  const { name, revision } = row;
  const who = draft?.content?.author || 'Somebody else';
  const message = `${who} changed "${name}" meanwhile. Take that over, or save yours over it.`;
  checkVersion(seen.version, versionFor(row, draft), message, { draft: draft?.content ?? null, revision });
  if (seen.basedOn === undefined || seen.basedOn === revision) return;
  throw new HttpProblem(
    409,
    'stale-revision',
    `"${name}" has revision ${revision} by now; yours started from ${seen.basedOn}. Load it again and repeat the change.`,
    { revision },
  );
}
