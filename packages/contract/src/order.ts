import { orderFile } from '@tonos/core';
import * as z from 'zod';
import { author, revisionSummary } from './chain.ts';

/** An order as it is being edited, and the revision that it started from. It may hold what a revision may not yet. */
export const orderDraft = z.object({ order: orderFile, basedOn: z.number().int(), changedAt: z.string(), author });

export const newOrderDraft = z.strictObject({ order: orderFile, basedOn: z.number().int().min(1), author });

export const newOrderRevision = z.strictObject({
  order: orderFile,
  note: z.string().trim().max(500).default(''),
  author,
  /** The revision that the editor started from: another one kept meanwhile refuses the request. */
  basedOn: z.number().int().min(1).optional(),
});

export const orderSummary = z.object({
  id: z.string(),
  titleId: z.string(),
  name: z.string(),
  /** The latest. */
  revision: z.number().int(),
  partCount: z.number().int(),
  /** What an episode fills; none where the order is a programme by itself. */
  places: z.array(z.string()),
  hasDraft: z.boolean(),
  createdAt: z.string(),
  changedAt: z.string(),
});

export const orderRevisionSummary = revisionSummary.omit({ stepCount: true }).extend({ partCount: z.number().int() });

export const runningOrder = orderSummary.extend({
  /** Counts every change of the draft and of the revisions; the same as the ETag. */
  version: z.number().int(),
  /** The latest revision. */
  order: orderFile,
  draft: orderDraft.nullable(),
  revisions: z.array(orderRevisionSummary),
});

export const orderRevision = z.object({
  id: z.string(),
  revision: z.number().int(),
  note: z.string(),
  author,
  createdAt: z.string(),
  order: orderFile,
});

export type OrderDraft = z.output<typeof orderDraft>;
export type NewOrderDraft = z.output<typeof newOrderDraft>;
export type NewOrderRevision = z.output<typeof newOrderRevision>;
export type OrderSummary = z.output<typeof orderSummary>;
export type RunningOrder = z.output<typeof runningOrder>;
export type OrderRevision = z.output<typeof orderRevision>;
