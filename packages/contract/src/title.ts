import * as z from 'zod';

/** A folder on the server that is watched: what is complete there comes in, and is run with the title's chain and target. */
export const inbox = z.strictObject({
  root: z.number().int().min(0).default(0),
  path: z.string().max(4096).default(''),
  run: z.boolean().default(false),
});

export const newTitle = z.strictObject({
  name: z.string().trim().min(1, 'A title needs a name.').max(200),
  kind: z.enum(['podcast', 'audiobook']),
});

/** What a title may change to; what is left out stays. */
export const titleChange = z.strictObject({
  name: z.string().trim().min(1).max(200).optional(),
  chainId: z.string().nullable().optional(),
  targetId: z.string().nullable().optional(),
  inbox: inbox.nullable().optional(),
});

/** A picture that goes into every delivery of a title. */
export const cover = z.object({
  sha256: z.string(),
  mediaType: z.enum(['image/jpeg', 'image/png']),
  width: z.number().int(),
  height: z.number().int(),
});

export const title = z.object({
  id: z.string(),
  name: z.string(),
  kind: z.enum(['podcast', 'audiobook']),
  /** What its last run used, offered for the next. */
  chainId: z.string().nullable(),
  targetId: z.string().nullable(),
  inbox: inbox.nullable(),
  cover: cover.nullable(),
  createdAt: z.string(),
  recordingCount: z.number().int(),
  totalSeconds: z.number(),
  warningCount: z.number().int(),
});

export type NewTitle = z.output<typeof newTitle>;
export type TitleChange = z.output<typeof titleChange>;
export type Title = z.output<typeof title>;
