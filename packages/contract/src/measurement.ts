import type { Measurement, Warning } from '@tonos/core';
import { COMPLAINTS, type ComplaintCode, LIMITABLE_MEASURES, type LimitableMeasure, SEVERITIES } from '@tonos/core';
import * as z from 'zod';

const level = z.number().nullable();

const warning = z.object({ code: z.string(), message: z.string() }) as unknown as z.ZodType<Warning>;

const complaint = z.object({
  code: z.enum(Object.keys(COMPLAINTS) as [ComplaintCode, ...ComplaintCode[]]),
  severity: z.enum(SEVERITIES),
  amount: z.number(),
  unit: z.string(),
  confidence: z.number(),
  places: z.array(
    z.object({
      startSeconds: z.number(),
      endSeconds: z.number(),
      lowHz: z.number().optional(),
      highHz: z.number().optional(),
    }),
  ),
  morePlaces: z.number().optional(),
  remedy: z.object({ kind: z.string(), settings: z.record(z.string(), z.union([z.string(), z.number()])) }).nullable(),
});

/** Every measure of a file, by the keys that the command and the API share. */
export const measurement: z.ZodType<Measurement> = z.object({
  durationSeconds: z.number(),
  sampleRateHz: z.number(),
  channels: z.number(),
  bitDepth: z.number().nullable(),
  bitrateKbps: z.number().nullable(),
  container: z.string(),
  codec: z.string(),
  integratedLufs: level,
  maxMomentaryLufs: level,
  maxShortTermLufs: level,
  loudnessRangeLu: level,
  truePeakDbtp: level,
  samplePeakDbfs: level,
  rmsDbfs: level,
  noiseFloorDbfs: level,
  crestDb: level,
  dcOffset: z.number(),
  clippedRuns: z.number(),
  headSilenceSeconds: level,
  tailSilenceSeconds: level,
  longestPauseSeconds: level,
  digitalSilenceSeconds: z.number(),
  channelCorrelation: level,
  channelBalanceDb: level,
  roomTone: z.array(
    z.object({ startSeconds: z.number(), endSeconds: z.number(), rmsDbfs: z.number(), confidence: z.number() }),
  ),
  warnings: z.array(warning),
  // recordings that an earlier version measured have none yet
  complaints: z.array(complaint).default([]),
});

/** Columns of smallest and largest sample, full scale 1: a picture of the whole file. */
export const overview = z.array(z.tuple([z.number(), z.number()]));

export const limitResult = z.object({
  measure: z.enum(Object.keys(LIMITABLE_MEASURES) as [LimitableMeasure, ...LimitableMeasure[]]),
  min: z.number().nullable(),
  max: z.number().nullable(),
  value: z.number().nullable(),
  result: z.enum(['within', 'over', 'under']),
  by: z.number().nullable(),
  required: z.boolean(),
});
