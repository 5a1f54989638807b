import { moduleManifest } from '@tonos/core';
import * as z from 'zod';

/** A module of the library: a process of one's own as WebAssembly. */
export const processorModule = z.object({
  id: z.string(),
  /** By which chains name it. */
  sha256: z.string(),
  manifest: moduleManifest,
  bytes: z.number().int(),
  /** As the file was called that brought it. */
  fileName: z.string(),
  author: z.string(),
  createdAt: z.string(),
  usedBy: z.object({
    chains: z.array(z.object({ id: z.string(), name: z.string() })),
    /** Running orders whose own chains have it. */
    orders: z.array(z.object({ id: z.string(), name: z.string(), titleId: z.string() })),
    presets: z.number().int(),
  }),
});

/** How the file is called that is brought in, for messages. */
export const moduleQuery = z.object({ name: z.string().trim().min(1).max(200).default('module.wasm') });

export type ProcessorModule = z.output<typeof processorModule>;
