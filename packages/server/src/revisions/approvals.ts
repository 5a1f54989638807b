import type { Approval, NewApproval } from '@tonos/contract';
import { caller, checkRole } from '../http/caller.ts';

/** A lead stands for it, from now on. */
export const approvedNow = ({ sentence }: NewApproval, at: string): Approval => ({ sentence, by: caller().name, at });

/** What was approved is not replaced by who may not approve. @param what such as: the chain “Voice” */
export function checkMayFollow(approval: Approval | null, what: string): void {
  if (approval) checkRole('lead', `change ${what}, which is approved`);
}
