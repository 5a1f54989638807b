import * as z from 'zod';
import { measurement, overview } from './measurement.ts';
import { fileProblem } from './problem.ts';

export const recording = z.object({
  id: z.string(),
  titleId: z.string(),
  name: z.string(),
  /** Place in the title, from 1. */
  position: z.number().int(),
  status: z.enum(['measuring', 'ready', 'unreadable']),
  /** Labels, empty where there is none. */
  speaker: z.string(),
  microphone: z.string(),
  room: z.string(),
  trashedAt: z.string().nullable(),
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
  /** Places and ranges that the file names. */
  marks: z.array(z.object({ name: z.string(), startSeconds: z.number(), endSeconds: z.number() })),
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
  /** true moves to the trash, false restores. */
  trashed: z.boolean().optional(),
});

export const recordingOverview = z.object({ columns: overview });

export type Recording = z.output<typeof recording>;
export type RecordingsChange = z.output<typeof recordingsChange>;
export type RecordingOverview = z.output<typeof recordingOverview>;
