import * as z from 'zod';

/** Why a revision may be used where only approved ones may. */
export const newApproval = z.strictObject({
  sentence: z.string().trim().min(1, 'Say in a sentence what it is approved for.').max(2000),
});

/** A lead stands for a revision. */
export const approval = newApproval.extend({ by: z.string(), at: z.string() });

export type NewApproval = z.output<typeof newApproval>;
export type Approval = z.output<typeof approval>;
