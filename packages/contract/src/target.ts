import { targetFile } from '@tonos/core';
import * as z from 'zod';
import { approval } from './approval.ts';

export const target = targetFile.extend({
  id: z.string(),
  /** Shipped targets are read-only. */
  shipped: z.boolean(),
  /** From 1; a change makes the next one, and runs keep the one they were started with. */
  version: z.number().int(),
  /** Whether a later version has taken its place. */
  superseded: z.boolean(),
  /** Who made it; null where nobody said. */
  personId: z.string().nullable(),
  approval: approval.nullable(),
});

export type Target = z.output<typeof target>;
