import { orderFile } from '@tonos/core';
import * as z from 'zod';
import { author, othersDraft, revisionSummary } from './chain.ts';
import { ledgerFigures } from './ledger.ts';

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
  /** Counts every change of the revisions and of one's own draft; the same as the ETag. */
  version: z.number().int(),
  /** The latest revision. */
  order: orderFile,
  /** Of who asks. */
  draft: orderDraft.nullable(),
  /** Of everybody else. */
  drafts: z.array(othersDraft),
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

/** An order as it is being edited, with one recording for each of its places. */
export const programmeQuestion = z.strictObject({ order: orderFile, fill: z.record(z.string(), z.string()) });

const findings = z.record(z.string(), z.record(z.string(), z.unknown()));

/** What comes to a chain, and behind each of its steps that are on. */
const chainAccount = { before: ledgerFigures, steps: z.array(z.object({ id: z.string(), figures: ledgerFigures })) };

/** What a running order does to the levels. */
export const programmeLedger = z.object({
  lengthSeconds: z.number(),
  /** Each as it comes to its group, and by how much it was brought to its level. */
  parts: z.array(z.object({ id: z.string(), figures: ledgerFigures, levelDb: z.number() })),
  /** Each behind its chain and gain, before it gives way; and what its chain does. */
  groups: z.array(z.object({ id: z.string(), figures: ledgerFigures, ...chainAccount })),
  /** What the chain of the whole does, and what is behind it. */
  whole: z.object({ after: ledgerFigures, ...chainAccount }),
  /** Of the whole behind its chain, every half second. */
  shortTermLufs: z.array(z.number().nullable()),
  /** What chains learned, by part and group, by step: with it they can run again without their studies. */
  found: z.object({
    parts: z.record(z.string(), findings),
    groups: z.record(z.string(), findings),
    whole: findings,
  }),
});

/** One line of the answer; the last one is `done` or `failed`. */
export const programmeLedgerLine = z.discriminatedUnion('type', [
  z.object({ type: z.literal('progress'), share: z.number() }),
  z.object({ type: z.literal('done'), ledger: programmeLedger }),
  z.object({ type: z.literal('failed'), message: z.string() }),
]);

export type ProgrammeQuestion = z.output<typeof programmeQuestion>;
export type ProgrammeLedger = z.output<typeof programmeLedger>;
export type ProgrammeLedgerLine = z.output<typeof programmeLedgerLine>;
export type OrderDraft = z.output<typeof orderDraft>;
export type NewOrderDraft = z.output<typeof newOrderDraft>;
export type NewOrderRevision = z.output<typeof newOrderRevision>;
export type OrderSummary = z.output<typeof orderSummary>;
export type RunningOrder = z.output<typeof runningOrder>;
export type OrderRevision = z.output<typeof orderRevision>;
