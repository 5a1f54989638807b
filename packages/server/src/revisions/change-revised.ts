import type { EntityManager, EntityTarget } from 'typeorm';
import { HttpProblem } from '../http/problems.ts';
import { checkVersion } from '../http/version-header.ts';
import type { RevisedEntity } from './revised-entity.ts';

type Revised = RevisedEntity & { draft: { author?: string } | null };

/** What somebody who changes something with revisions saw of it. */
export interface Seen {
  /** The version that the change was made on. */
  version?: number;
  /** The revision that it started from. */
  basedOn?: number;
}

/**
 * Writes a change of the draft, or of the revisions, as the next version.
 * @throws HttpProblem 412 with the draft that stands where somebody else wrote meanwhile, 409 where there is a newer revision
 */
export async function changeRevised<Row extends Revised>(
  manager: EntityManager,
  entity: EntityTarget<Row>,
  row: Row,
  seen: Seen,
  change: Partial<Row>,
): Promise<number> {
  checkSeen(row, seen);
  const version = row.version + 1;
  await manager.save(entity, { ...row, ...change, version });
  return version;
}

/** @returns the version without it */
export async function dropDraftOf<Row extends Revised>(
  manager: EntityManager,
  entity: EntityTarget<Row>,
  row: Row,
  version: number | undefined,
): Promise<number> {
  if (row.draft) return changeRevised(manager, entity, row, { version }, { draft: null } as Partial<Row>);
  checkSeen(row, { version });
  return row.version;
}

function checkSeen({ name, version, revision, draft }: Revised, seen: Seen): void {
  const who = draft?.author || 'Somebody else';
  checkVersion(seen.version, version, `${who} changed "${name}" meanwhile. Take that over, or save yours over it.`, {
    draft,
  });
  if (seen.basedOn === undefined || seen.basedOn === revision) return;
  throw new HttpProblem(
    409,
    'stale-revision',
    `"${name}" has revision ${revision} by now; yours started from ${seen.basedOn}. Load it again and repeat the change.`,
    { revision },
  );
}
