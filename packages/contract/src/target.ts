import { targetFile } from '@tonos/core';
import * as z from 'zod';

export const target = targetFile.extend({
  id: z.string(),
  /** Shipped targets are read-only. */
  shipped: z.boolean(),
  /** From 1; a change makes the next one, and runs keep the one they were started with. */
  version: z.number().int(),
  /** Whether a later version has taken its place. */
  superseded: z.boolean(),
});

export type Target = z.output<typeof target>;
