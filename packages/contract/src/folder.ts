import * as z from 'zod';

/** A folder on the server, below one of the roots that are configured. */
export const folderQuery = z.object({
  /** Which root, by its number in the list. */
  root: z.coerce.number().int().min(0).default(0),
  /** From the root down, with slashes; empty is the root itself. */
  path: z.string().max(4096).default(''),
});

export const folder = z.object({
  /** Names of the roots; empty where none is configured. */
  roots: z.array(z.string()),
  folders: z.array(z.string()),
  files: z.array(z.object({ name: z.string(), sizeBytes: z.number(), changedMs: z.number() })),
});

export const fromFolder = z.strictObject({
  root: z.number().int().min(0).default(0),
  path: z.string().max(4096).default(''),
  files: z.array(z.string().min(1).max(255)).min(1, 'Choose at least one file.').max(10_000),
});

export type Folder = z.output<typeof folder>;
export type FolderQuery = z.output<typeof folderQuery>;
export type FromFolder = z.output<typeof fromFolder>;
