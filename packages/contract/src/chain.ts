import { chainFile, chainStep } from '@tonos/core';
import * as z from 'zod';
import { approval } from './approval.ts';
import { personRef } from './people.ts';

/** How a person calls themselves; empty where they did not say. */
export const author = z.string().trim().max(100).default('');

/** Steps as they are being edited, and the revision they started from. */
export const chainDraft = z.object({
  steps: z.array(chainStep).max(100),
  basedOn: z.number().int(),
  changedAt: z.string(),
  author,
});

export const newDraft = z.strictObject({
  steps: z.array(chainStep).max(100),
  basedOn: z.number().int().min(1),
  author,
});

export const revisionSummary = z.object({
  revision: z.number().int(),
  note: z.string(),
  author,
  createdAt: z.string(),
  stepCount: z.number().int(),
  approval: approval.nullable(),
});

/** Somebody else's work in progress: who, and since when. */
export const othersDraft = z.object({ person: personRef, changedAt: z.string() });

export const newRevision = z.strictObject({
  steps: z.array(chainStep).max(100),
  note: z.string().trim().max(500).default(''),
  author,
  /** The revision the editor started from: another one kept meanwhile refuses the request. */
  basedOn: z.number().int().min(1).optional(),
});

export const revision = chainFile.extend({
  id: z.string(),
  revision: z.number().int(),
  note: z.string(),
  author,
  createdAt: z.string(),
});

export const chainSummary = z.object({
  id: z.string(),
  name: z.string(),
  tags: z.array(z.string()),
  notes: z.string(),
  /** The latest revision. */
  revision: z.number().int(),
  stepCount: z.number().int(),
  hasDraft: z.boolean(),
  createdAt: z.string(),
  changedAt: z.string(),
  starred: z.boolean(),
  /** Out of sight, and kept for the runs that used it. */
  archived: z.boolean(),
  usedBy: z.object({
    /** Titles whose chain it is. */
    titles: z.array(z.object({ id: z.string(), name: z.string() })),
    runs: z.number().int(),
    lastRunAt: z.string().nullable(),
  }),
});

/** What is left out stays as it is. Steps change by revisions only. */
export const chainChange = z
  .strictObject({
    name: z.string().trim().min(1).max(200),
    notes: z.string().max(10_000),
    tags: z.array(z.string().trim().min(1).max(60)).max(30),
    starred: z.boolean(),
    archived: z.boolean(),
  })
  .partial();

export const chain = chainSummary.extend({
  /** Counts every change of the revisions and of one's own draft; the same as the ETag. */
  version: z.number().int(),
  steps: z.array(chainStep),
  /** Of who asks. */
  draft: chainDraft.nullable(),
  /** Of everybody else. */
  drafts: z.array(othersDraft),
  revisions: z.array(revisionSummary),
});

export const catalogueEntry = z.object({
  kind: z.string(),
  title: z.string(),
  group: z.string(),
  summary: z.string(),
  words: z.array(z.string()).readonly(),
  settings: z.record(z.string(), z.unknown()),
});

export type OthersDraft = z.output<typeof othersDraft>;
export type ChainDraft = z.output<typeof chainDraft>;
export type NewDraft = z.output<typeof newDraft>;
export type RevisionSummary = z.output<typeof revisionSummary>;
export type NewRevision = z.output<typeof newRevision>;
export type Revision = z.output<typeof revision>;
export type ChainSummary = z.output<typeof chainSummary>;
export type ChainChange = z.output<typeof chainChange>;
export type Chain = z.output<typeof chain>;
