import * as z from 'zod';
import { itemStatus } from './run.ts';

/** What was delivered of a recording, as its last run left it. */
export const standingState = z.enum(['none', 'under-way', 'within', 'off-target', 'accepted', 'failed', 'out-of-date']);

/** What has changed since: a newer revision, version or take; what was marked; what it does otherwise than its chain. */
export const outdatedBy = z.enum(['chain', 'order', 'target', 'take', 'marks', 'adjustments', 'outside']);

export const standing = z.object({
  recordingId: z.string(),
  state: standingState,
  /** The item that tells; null where it is in no run. */
  runId: z.string().nullable(),
  itemId: z.string().nullable(),
  /** As the item stands, whatever has changed since. */
  status: itemStatus.nullable(),
  outdatedBy: z.array(outdatedBy),
});

export const titleStanding = z.object({
  titleId: z.string(),
  counts: z.record(standingState, z.number().int()),
  lastRunId: z.string().nullable(),
  lastRunAt: z.string().nullable(),
});

export type StandingState = z.output<typeof standingState>;
export type OutdatedBy = z.output<typeof outdatedBy>;
export type Standing = z.output<typeof standing>;
export type TitleStanding = z.output<typeof titleStanding>;

export function countStandings(standings: readonly Pick<Standing, 'state'>[]): TitleStanding['counts'] {
  const counts = { none: 0, 'under-way': 0, within: 0, 'off-target': 0, accepted: 0, failed: 0, 'out-of-date': 0 };
  for (const { state } of standings) counts[state]++;
  return counts;
}
