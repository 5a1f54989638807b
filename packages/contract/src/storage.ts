import * as z from 'zod';

const bytes = z.number();

/** Less free room than this is soon too little for a night's work. */
export const LITTLE_BYTES = 10e9;

/** What lies in the data folder. */
export const storage = z.object({
  freeBytes: bytes,
  titles: z.array(
    z.object({
      id: z.string(),
      name: z.string(),
      recordings: z.number().int(),
      /** Sources as they came; one that two titles have counts in both. */
      sourceBytes: bytes,
      deliveries: z.number().int(),
      deliveredBytes: bytes,
      /** Of those, what recipes can make again. */
      clearableBytes: bytes,
    }),
  ),
  /** Pictures' data and copies that can be read at random: made again where they are missing. */
  derivedBytes: bytes,
  /** Files that no recording and no item needs any more, such as deliveries that were rendered again. */
  unused: z.object({ files: z.number().int(), bytes }),
});

export const clearRenders = z.strictObject({ titleId: z.string() });

/** What a check of every stored file, and of the database, found. */
export const integrity = z.object({
  files: z.number().int(),
  faults: z.array(z.object({ sha256: z.string(), fault: z.enum(['missing', 'altered']), usedBy: z.array(z.string()) })),
  /** What SQLite's own check says is wrong; empty where nothing is. */
  database: z.array(z.string()),
});

export type Storage = z.output<typeof storage>;
export type Integrity = z.output<typeof integrity>;
