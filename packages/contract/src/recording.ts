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
  sizeBytes: z.number(),
  sha256: z.string(),
  measurement: measurement.nullable(),
  /** Why it is unreadable. */
  error: fileProblem.nullable(),
  createdAt: z.string(),
});

export const recordingOverview = z.object({ columns: overview });

export type Recording = z.output<typeof recording>;
export type RecordingOverview = z.output<typeof recordingOverview>;
