import type { Approval } from '@tonos/contract';
import { checkRole, isByItself } from '../http/caller.ts';
import { HttpProblem } from '../http/problems.ts';

/** What a run is made of and nobody stands for, in sentences. @param title none where it does not ask for that */
export const unapprovedOf = (
  title: { approvedOnly: boolean },
  parts: readonly { what: string; approval: Approval | null }[],
): string[] =>
  title.approvedOnly ? parts.flatMap(({ what, approval }) => (approval ? [] : [`${what} is not approved`])) : [];

/** @throws HttpProblem 403 where the title asks for approved revisions, and who starts the run may not go without */
export function checkApproved(unapproved: readonly string[]): void {
  if (!unapproved.length) return;
  const why = unapproved.join(', and ');
  if (isByItself())
    throw new HttpProblem(
      403,
      'not-approved',
      `This title asks for what is approved: ${why}. A lead approves it, or starts the run.`,
    );
  checkRole('lead', `start this run: the title asks for what is approved, and ${why}`);
}
