import { targetFile } from '@tonos/core';
import * as z from 'zod';

export const target = targetFile.extend({
  id: z.string(),
  /** Shipped targets are read-only. */
  shipped: z.boolean(),
});

export type Target = z.output<typeof target>;
