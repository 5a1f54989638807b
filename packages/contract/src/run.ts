import { stepAdjustment, targetFile } from '@tonos/core';
import * as z from 'zod';
import { limitResult, measurement, overview } from './measurement.ts';
import { fileProblem } from './problem.ts';
import { timeMap } from './time-map.ts';

export const newRun = z.strictObject({
  titleId: z.string(),
  recordingIds: z.array(z.string()).min(1, 'Choose at least one recording.').max(10_000),
  chainId: z.string(),
  /** The latest one where it is left out. */
  revision: z.number().int().min(1).optional(),
  targetId: z.string(),
});

/** One programme for each of `fills`: what fills the places of the order, by their names. */
export const newOrderRun = z.strictObject({
  titleId: z.string(),
  orderId: z.string(),
  /** The latest one where it is left out. */
  revision: z.number().int().min(1).optional(),
  targetId: z.string(),
  fills: z
    .array(z.record(z.string(), z.string()))
    .min(1, 'Give at least one programme: {} for an order without places.')
    .max(10_000)
    .default([{}]),
});

export const retryRequest = z.strictObject({ itemIds: z.array(z.string()).min(1).max(10_000).optional() });

export const remedyRequest = z.strictObject({
  /** All that are off target, where it is left out. */
  itemIds: z.array(z.string()).min(1).max(10_000).optional(),
  /** Also sets the adjustments and renders these items again; earlier attempts stay. */
  apply: z.boolean().default(false),
});

/** What would bring an item inside. Where nothing helps, no adjustments, the present figures, and why. */
export const itemRemedy = z.object({
  itemId: z.string(),
  adjustments: z.array(stepAdjustment),
  forecast: z.object({ verdict: z.enum(['within', 'off-target']), limits: z.array(limitResult) }),
  sentence: z.string(),
});

export const runChange = z
  .strictObject({ paused: z.boolean(), /** Before all that wait. */ first: z.literal(true) })
  .partial();

export const itemStatus = z.enum(['queued', 'working', 'within', 'off-target', 'failed', 'cancelled']);
export const runStatus = z.enum(['queued', 'working', 'finished', 'cancelled']);

/** What a step found in a recording, and the most it did. */
/** Why a file that is off target is delivered all the same. */
export const acceptance = z.strictObject({
  reason: z.string().trim().min(1, 'Write a reason: the report shows it.').max(2000),
});

export const stepReport = z.object({
  id: z.string(),
  kind: z.string(),
  /** Of a module’s step: its name. */
  title: z.string().optional(),
  findings: z.record(z.string(), z.unknown()),
  findingsVersion: z.number().int().optional(),
  deepest: z.record(z.string(), z.number()),
  /** Where it brought the moments of what came to it, if anywhere. */
  timeMap: timeMap.optional(),
});

export const runItem = z.object({
  id: z.string(),
  runId: z.string(),
  recordingId: z.string(),
  name: z.string(),
  position: z.number().int(),
  status: itemStatus,
  before: measurement.nullable(),
  after: measurement.nullable(),
  limits: z.array(limitResult),
  findings: z.array(stepReport),
  /** Knots `[sourceSeconds, resultSeconds]`: where the source's moments lie in the delivery. */
  timeMap: timeMap.nullable(),
  /** Of a programme that was put together: where its parts lie in the delivery. */
  parts: z
    .array(z.object({ id: z.string(), name: z.string(), startSeconds: z.number(), endSeconds: z.number() }))
    .nullable(),
  error: fileProblem.nullable(),
  output: z.object({ name: z.string(), sizeBytes: z.number(), sha256: z.string() }).nullable(),
  /** An item off target that a person accepted. */
  accepted: acceptance.extend({ at: z.string(), by: z.string().optional() }).nullable(),
  /** The delivered file was cleared to save room; it can be made again from its recipe. */
  cleared: z.boolean(),
  /** How long the render took. */
  seconds: z.number().nullable(),
  /** Which machine made it, or does so now; null: the server itself. */
  machine: z.object({ id: z.string(), name: z.string() }).nullable(),
});

export const runSummary = z.object({
  id: z.string(),
  titleId: z.string(),
  titleName: z.string(),
  /** Empty for a run of a running order; the name and the revision are the order's then. */
  chainId: z.string(),
  chainName: z.string(),
  revision: z.number().int(),
  orderId: z.string().nullable(),
  targetId: z.string(),
  targetName: z.string(),
  status: runStatus,
  counts: z.record(itemStatus, z.number().int()),
  /** Of those off target, how many a person accepted. */
  accepted: z.number().int(),
  /** How long the sources of what was rendered are, and how long the renders took, each on its thread. */
  soundSeconds: z.number(),
  workSeconds: z.number(),
  createdAt: z.string(),
  /** Who started it, as they are called. */
  by: z.string(),
  /** What of it was not approved though the title asks for that, in sentences. */
  unapproved: z.array(z.string()),
  paused: z.boolean(),
  startedAt: z.string().nullable(),
  finishedAt: z.string().nullable(),
});

/** What a run came to for one recording, beside what else was made of it. */
export const recordingItem = runItem.omit({ before: true, findings: true }).extend({
  run: runSummary.pick({
    createdAt: true,
    chainId: true,
    chainName: true,
    revision: true,
    orderId: true,
    targetId: true,
    targetName: true,
  }),
});

export const run = runSummary.extend({
  /** Of its target as it was when the run was started. */
  targetLimits: targetFile.shape.limits,
  items: z.array(runItem),
});
/** An earlier outcome of an item that was rendered again. */
export const attempt = z.object({
  id: z.string(),
  /** When it made room for the next one. */
  keptAt: z.string(),
  status: itemStatus,
  after: measurement.nullable(),
  limits: z.array(limitResult),
  seconds: z.number().nullable(),
  accepted: runItem.shape.accepted,
});

/** Where on the server a package goes: below one of the roots that are configured. */
export const deliveryPlace = z.strictObject({
  root: z.number().int().min(0).default(0),
  path: z.string().max(4096).default(''),
});
export const deliveredPackage = z.object({ name: z.string(), sizeBytes: z.number() });

export const itemOverview = z.object({ columns: overview });

export type NewRun = z.output<typeof newRun>;
export type NewOrderRun = z.output<typeof newOrderRun>;
export type Acceptance = z.output<typeof acceptance>;
export type RunChange = z.output<typeof runChange>;
export type RemedyRequest = z.output<typeof remedyRequest>;
export type ItemRemedy = z.output<typeof itemRemedy>;
export type RetryRequest = z.output<typeof retryRequest>;
export type ItemStatus = z.output<typeof itemStatus>;
export type RunStatus = z.output<typeof runStatus>;
export type ItemPart = NonNullable<RunItem['parts']>[number];
export type RunItem = z.output<typeof runItem>;
export type RecordingItem = z.output<typeof recordingItem>;
export type Attempt = z.output<typeof attempt>;
export type DeliveryPlace = z.output<typeof deliveryPlace>;
export type DeliveredPackage = z.output<typeof deliveredPackage>;
export type RunSummary = z.output<typeof runSummary>;
export type Run = z.output<typeof run>;
