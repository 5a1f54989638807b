import * as z from 'zod';

/** What can be thrown away, and brought back. */
export const trashKind = z.enum(['title', 'recording', 'run', 'chain', 'target', 'preset', 'module', 'order']);

/** Something in the trash. What lies in a title goes with it, and is not named by itself. */
export const trashEntry = z.object({
  kind: trashKind,
  id: z.string(),
  name: z.string(),
  /** The title that it belongs to, or that it is. */
  titleId: z.string().nullable(),
  titleName: z.string().nullable(),
  trashedAt: z.string(),
  /** What goes with it, itself included. */
  contains: z.object({ recordings: z.number().int(), runs: z.number().int(), deliveries: z.number().int() }),
  /** The room that its files give, where nothing else needs them. */
  bytes: z.number(),
  /** Why it can't be removed for good yet; null where it can. */
  neededBy: z.string().nullable(),
});

export const trashed = z.strictObject({ kind: trashKind, id: z.string() });

/** All of it, all of one kind, or one. */
export const trashChoice = trashed
  .partial()
  .refine(({ kind, id }) => id === undefined || kind !== undefined, { message: 'An id goes with its kind.' });

export const trashEmptied = z.object({
  removed: z.array(trashed.extend({ name: z.string() })),
  /** What stays, and why. */
  kept: z.array(trashed.extend({ name: z.string(), why: z.string() })),
  freedBytes: z.number(),
});

export type TrashKind = z.output<typeof trashKind>;
export type TrashEntry = z.output<typeof trashEntry>;
export type Trashed = z.output<typeof trashed>;
export type TrashChoice = z.output<typeof trashChoice>;
export type TrashEmptied = z.output<typeof trashEmptied>;
