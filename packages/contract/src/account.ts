import * as z from 'zod';

/** What the account tells of: `people` is the security account, which owners see. */
export const ACCOUNT_KINDS = [
  'title',
  'recording',
  'set',
  'run',
  'chain',
  'order',
  'target',
  'preset',
  'module',
  'note',
  'trash',
  'storage',
  'people',
] as const;

export const accountQuery = z.object({
  titleId: z.string().optional(),
  chainId: z.string().optional(),
  personId: z.string().optional(),
  kind: z.enum(ACCOUNT_KINDS).optional(),
  since: z.iso.datetime({ offset: true }).or(z.iso.date()).optional(),
  /** The newest so many. */
  most: z.coerce.number().int().min(1).max(10_000).default(500),
});

/** Who did what, in a sentence. It can't be edited. */
export const accountEntry = z.object({
  id: z.string(),
  at: z.string(),
  person: z.object({ id: z.string().nullable(), name: z.string() }),
  kind: z.enum(ACCOUNT_KINDS),
  titleId: z.string().nullable(),
  chainId: z.string().nullable(),
  sentence: z.string(),
});

export type AccountKind = (typeof ACCOUNT_KINDS)[number];
export type AccountQuery = z.output<typeof accountQuery>;
export type AccountEntry = z.output<typeof accountEntry>;
