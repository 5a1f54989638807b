import * as z from 'zod';
import { limitResult, measurement } from './measurement.ts';
import { fileProblem } from './problem.ts';
import { itemStatus, runItem } from './run.ts';
import { titleDetails } from './title.ts';

/** `tonos.report/1`: what a run delivered, and how every item of it came out. */
export const reportFile = z.object({
  format: z.literal('tonos.report/1'),
  version: z.string(),
  title: z.string(),
  /** What the title says of itself. */
  details: titleDetails.optional(),
  /** Of a run of a running order, that of the order. */
  chain: z.object({ name: z.string(), revision: z.number().int() }),
  order: z.object({ name: z.string(), revision: z.number().int() }).optional(),
  target: z.string(),
  createdAt: z.string(),
  /** What of it was not approved though the title asks for that. */
  unapproved: z.array(z.string()).optional(),
  items: z.array(
    z.object({
      name: z.string(),
      sourceSha256: z.string(),
      status: itemStatus,
      output: z.string().nullable(),
      outputSha256: z.string().nullable(),
      before: measurement.nullable(),
      after: measurement.nullable(),
      limits: z.array(limitResult),
      /** Why an item off target is delivered all the same. */
      accepted: z.object({ reason: z.string(), at: z.string(), by: z.string().optional() }).nullable(),
      parts: runItem.shape.parts.optional(),
      error: fileProblem.nullable(),
      /** What somebody had to say of places in the recording, and nobody has seen to. */
      openNotes: z.array(z.object({ atSeconds: z.number(), text: z.string() })).optional(),
    }),
  ),
});

export type ReportFile = z.output<typeof reportFile>;
