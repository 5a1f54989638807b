import { HttpProblem } from './problems.ts';
import { checkVersion } from './version-header.ts';

/** Something with revisions and one draft: who changes it says what they saw. */
interface Revised {
  name: string;
  version: number;
  revision: number;
  draft: { author?: string } | null;
}

/** @param seen the version that a change was made on; @throws HttpProblem 412 with the draft that stands */
export function checkSeen({ name, version, draft }: Revised, seen: number | undefined): void {
  const who = draft?.author || 'Somebody else';
  checkVersion(seen, version, `${who} changed "${name}" meanwhile. Take that over, or save yours over it.`, { draft });
}

/** @param basedOn the revision that a change started from; @throws HttpProblem 409 where there is a newer one */
export function checkBase({ name, revision }: Revised, basedOn: number | undefined): void {
  if (basedOn === undefined || basedOn === revision) return;
  throw new HttpProblem(
    409,
    'stale-revision',
    `"${name}" has revision ${revision} by now; yours started from ${basedOn}. Load it again and repeat the change.`,
    { revision },
  );
}
