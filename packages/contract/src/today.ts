import * as z from 'zod';
import { fileProblem } from './problem.ts';
import { runSummary } from './run.ts';

const inTitle = z.object({ titleId: z.string(), titleName: z.string() });

/** What waits for somebody, over all titles. Nothing that is well is named. */
export const today = z.object({
  checkedAt: z.string(),
  /** Under way, with how far they are by length and how long they will take at their pace so far. */
  runs: z.array(runSummary.extend({ share: z.number(), secondsLeft: z.number().nullable() })),
  /** Off target or failed at their last try, and settled by nobody since. */
  items: z.array(
    inTitle.extend({
      runId: z.string(),
      itemId: z.string(),
      recordingId: z.string(),
      name: z.string(),
      status: z.enum(['off-target', 'failed']),
      /** Which limit is missed by how much, or why it failed. */
      sentence: z.string(),
    }),
  ),
  unreadable: z.array(inTitle.extend({ recordingId: z.string(), name: z.string(), error: fileProblem.nullable() })),
  /** What watched folders brought in and no run has taken yet. */
  arrivals: z.array(
    inTitle.extend({
      recordingIds: z.array(z.string()),
      /** Why they wait. */
      sentence: z.string(),
    }),
  ),
  /** Notes on places that nobody has seen to. */
  notes: z.array(
    inTitle.extend({
      recordingId: z.string(),
      name: z.string(),
      markId: z.string(),
      atSeconds: z.number(),
      text: z.string(),
    }),
  ),
  disk: z.object({
    freeBytes: z.number(),
    /** Whether runs may soon be refused for want of room. */
    isLow: z.boolean(),
    trashBytes: z.number(),
  }),
});

export type Today = z.output<typeof today>;
