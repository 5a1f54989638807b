import { chainStep, orderFile, roomToneChoice, spectralBox, stepAdjustment, targetFile, timeCuts } from '@tonos/core';
import * as z from 'zod';
import { frozenSound } from './outside.ts';
import { mark } from './recording.ts';
import { stepReport } from './run.ts';
import { setMember } from './set.ts';
import { timeMap } from './time-map.ts';

/** What people marked in a recording. */
const marked = z.object({
  marks: z.array(mark),
  roomToneChoice,
  boxes: z.array(spectralBox),
  /** Only where there are any. */
  cuts: timeCuts.optional(),
});

const pickUps = z.record(z.string(), z.object({ name: z.string(), sha256: z.string() }));

const place = setMember.pick({ offsetSeconds: true, driftPpm: true });

/** What a part of a programme is made from. */
const partInput = z.object({ name: z.string(), sha256: z.string(), marked, pickUps: pickUps.optional() });

/** What a render is made from, before anything is learned from the recording. Its SHA-256 goes into the delivered file. */
export const recipeInput = z.object({
  version: z.string(),
  source: z.object({ name: z.string(), sha256: z.string() }),
  chain: z.object({ name: z.string(), revision: z.number().int(), steps: z.array(chainStep) }),
  /** What this recording does otherwise. */
  adjustments: z.array(stepAdjustment),
  marked,
  /** What pick-ups come from, by the ids of their recordings. */
  pickUps: pickUps.optional(),
  /** What came from outside, and stands for the recording with the chain’s steps up to one of them. */
  frozen: frozenSound.pick({ stepId: true, name: true, sha256: true, timeMap: true }).optional(),
  /** Of a programme that was put together: its order, chains included, and each part's file. */
  order: z
    .object({
      file: orderFile,
      parts: z.record(
        z.string(),
        partInput.extend({
          /** Where it is several linked recordings: where the first one lies on the time that they share, and the others. */
          linked: z.object({ place, others: z.array(partInput.extend({ place })) }).optional(),
        }),
      ),
    })
    .optional(),
  /** Where it is one of a set: where it lies, and what holds for all of them. */
  set: z
    .object({
      place,
      others: z.array(
        z.object({
          sha256: z.string(),
          place,
          marks: z.array(mark),
          cuts: timeCuts,
        }),
      ),
    })
    .optional(),
  target: targetFile,
  /** Written into the file: part of what makes it the same again. */
  notes: z.record(z.string(), z.unknown()),
});

/** `tonos.recipe/1`: everything that a delivered file came from. */
export const recipeFile = recipeInput.extend({
  format: z.literal('tonos.recipe/1'),
  /** SHA-256 of the rest without `findings`, `timeMap` and `sourceRemoved`, keys sorted, as compact JSON. */
  sha256: z.string(),
  findings: z.array(stepReport),
  timeMap: timeMap.optional(),
  /** The recording was removed for good: the file can't be made again. */
  sourceRemoved: z.literal(true).optional(),
});

export type RecipeInput = z.output<typeof recipeInput>;
export type RecipeFile = z.output<typeof recipeFile>;
