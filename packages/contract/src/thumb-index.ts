import { chainStep } from '@tonos/core';
import * as z from 'zod';

/** A letter of the thumb index. */
export const indexLetter = z.string().regex(/^[a-z]$/, 'A letter from a to z.');

/** What lies at a place: a chain or a preset by its id, so that their changes are followed, or steps as they were put there. */
const indexContent = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('chain'), chainId: z.string() }),
  z.strictObject({ kind: z.literal('preset'), presetId: z.string() }),
  z.strictObject({ kind: z.literal('steps'), steps: z.array(chainStep).min(1).max(100) }),
]);

export const newIndexPlace = z.strictObject({
  name: z.string().trim().min(1, 'Give it a name.').max(120),
  content: indexContent,
});

export const indexPlace = newIndexPlace.extend({ letter: indexLetter });

export type NewIndexPlace = z.output<typeof newIndexPlace>;
export type IndexPlace = z.output<typeof indexPlace>;
