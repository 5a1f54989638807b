import {
  roomToneChoice,
  type SpectralBox,
  spectralBox,
  stepAdjustment,
  type TimeSpan,
  timeCut,
  timeCuts,
} from '@tonos/core';
import * as z from 'zod';
import { measurement, overview } from './measurement.ts';
import { frozenSound } from './outside.ts';
import { fileProblem } from './problem.ts';

const seconds = z.number().min(0).max(1e6);

/** What somebody has to say of a place: to be seen to, until it is done. */
export const markNote = z.strictObject({
  text: z.string().trim().min(1, 'A note needs a text.').max(2000),
  state: z.enum(['open', 'done']).default('open'),
  by: z.string().trim().max(100).default(''),
  /** ISO 8601; the server's time, where it is left out. */
  at: z.string().max(40).optional(),
});

/** A named place (both ends alike) or range. */
export const mark = z.strictObject({
  id: z.string().min(1).max(64),
  name: z.string().trim().max(200),
  startSeconds: seconds,
  endSeconds: seconds,
  /** Whether a chapter begins here: it goes into the delivery. */
  chapter: z.boolean().optional(),
  note: markNote.optional(),
});

export const MOST_MARKS = 5000;
export const MOST_BOXES = 500;

type Issues = z.core.$RefinementCtx;

function checkSpan({ startSeconds, endSeconds }: TimeSpan, context: Issues): void {
  if (endSeconds >= startSeconds) return;
  const message = `A range ends at ${endSeconds} s, before its start at ${startSeconds} s.`;
  context.addIssue({ code: 'custom', message });
}

function checkBox(box: Omit<SpectralBox, 'id'>, context: Issues): void {
  checkSpan(box, context);
  if (box.highHz < box.lowHz)
    context.addIssue({ code: 'custom', message: `A box ends at ${box.highHz} Hz, under ${box.lowHz} Hz.` });
}

/** What people call it; empty: as its file is called. */
const givenName = z.string().trim().max(200);

/** What sounds in it. Music and sounds are no chapters, and no voice chain is run over them unless somebody asks for that. */
export const recordingKind = z.enum(['voice', 'music', 'sound']);

/** Under what it may be used. */
const licence = z.string().trim().max(2000);

/** What of it is repeated where it is too short for its place. */
const loop = z
  .strictObject({ startSeconds: z.number().min(0).max(1e6), endSeconds: z.number().min(0).max(1e6) })
  .nullable();

/** By the chain's id. */
const adjustments = z.record(z.string(), z.array(stepAdjustment).max(100));

/** What people mark in one recording; what is left out stays as it is. Its samples never change. */
export const recordingChange = z
  .strictObject({
    marks: z.array(mark).max(MOST_MARKS),
    roomToneChoice,
    boxes: z.array(spectralBox).max(MOST_BOXES),
    cuts: timeCuts,
    adjustments,
    givenName,
    kind: recordingKind,
    licence,
    loop,
  })
  .partial()
  .superRefine(({ marks = [], roomToneChoice: choice, boxes = [], loop: repeated }, context) => {
    if (repeated) checkSpan(repeated, context);
    for (const span of [...marks, ...(choice?.use ?? []), ...(choice?.never ?? [])]) checkSpan(span, context);
    for (const box of boxes) checkBox(box, context);
  });

/** One mark, put under its id; one that is there already is changed. */
export const markChange = mark.omit({ id: true }).superRefine(checkSpan);
export const boxChange = spectralBox.omit({ id: true }).superRefine(checkBox);
/** One cut, put under the id that the path names. */
export const cutChange = timeCut;

export const recording = z.object({
  id: z.string(),
  titleId: z.string(),
  /** Its file's. */
  name: z.string(),
  givenName,
  kind: recordingKind,
  licence: z.string(),
  loop,
  /** Counts what people change of it; the same as the ETag. */
  version: z.number().int(),
  /** Place in the title, from 1. */
  position: z.number().int(),
  status: z.enum(['measuring', 'ready', 'unreadable']),
  /** Labels, empty where there is none. */
  speaker: z.string(),
  microphone: z.string(),
  room: z.string(),
  trashedAt: z.string().nullable(),
  /** What all takes of one recording share. One of them is current; the others are its history. */
  takeOf: z.string(),
  superseded: z.boolean(),
  sizeBytes: z.number(),
  sha256: z.string(),
  measurement: measurement.nullable(),
  /** What the file says of itself. */
  tags: z.object({
    title: z.string().optional(),
    artist: z.string().optional(),
    track: z.number().optional(),
    description: z.string().optional(),
    originator: z.string().optional(),
    timeReferenceSeconds: z.number().optional(),
    scene: z.string().optional(),
    take: z.string().optional(),
  }),
  /** Places and ranges: those that the file names, and people's own. */
  marks: z.array(mark),
  /** Room tone corrected by hand. */
  roomToneChoice,
  /** What is turned down in the spectrogram before the chain. */
  boxes: z.array(spectralBox),
  /** What was done to its time by hand; made before the chain, and nothing of the file is destroyed. */
  cuts: timeCuts,
  /** What this recording does otherwise than the chains it is run with. */
  adjustments,
  /** Sound from outside that stands for it with a chain’s first steps, by the chain’s id. */
  frozen: z.record(z.string(), frozenSound),
  /** Why it is unreadable. */
  error: fileProblem.nullable(),
  createdAt: z.string(),
});

const label = z.string().trim().max(100).optional();

/** A change to many recordings at once; what is left out stays as it is in each. */
export const recordingsChange = z.strictObject({
  ids: z.array(z.string()).min(1, 'Choose at least one recording.').max(10_000),
  speaker: label,
  microphone: label,
  room: label,
  kind: recordingKind.optional(),
  /** true moves to the trash, false restores. */
  trashed: z.boolean().optional(),
  /** Changes to a chain for these recordings only. They touch only what they name, or take the place of what was there. */
  adjust: z
    .strictObject({
      chainId: z.string(),
      steps: z.array(stepAdjustment).max(100),
      /** Ids of steps that are to be as in the chain again. */
      clear: z.array(z.string()).max(100).default([]),
      replace: z.boolean().default(false),
    })
    .optional(),
});

/** These first, in this order; what is not named keeps its order behind them. */
export const recordingOrder = z.strictObject({ recordingIds: z.array(z.string()).max(100_000) });

/** With `replaces`, the one file that is sent becomes the current take of that recording. */
export const arrivalQuery = z.object({ replaces: z.string().min(1).optional() });

const span = z.object({ startSeconds: z.number(), endSeconds: z.number() });

/** Between the words of a recording: pauses, and breaths in them. */
export const recordingGaps = z.object({ pauses: z.array(span), breaths: z.array(span) });
export type RecordingGaps = z.output<typeof recordingGaps>;

export const recordingOverview = z.object({ columns: overview });

export type RecordingKind = z.output<typeof recordingKind>;
export type Recording = z.output<typeof recording>;
export type Mark = z.output<typeof mark>;
export type MarkChange = z.output<typeof markChange>;
export type BoxChange = z.output<typeof boxChange>;
export type CutChange = z.output<typeof cutChange>;
export type MarkNote = z.output<typeof markNote>;
export type RecordingChange = z.output<typeof recordingChange>;
export type RecordingsChange = z.output<typeof recordingsChange>;
export type RecordingOrder = z.output<typeof recordingOrder>;
export type RecordingOverview = z.output<typeof recordingOverview>;
