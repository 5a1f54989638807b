import * as z from 'zod';

/** Where a recording lies on the time of its set. */
export const setMember = z.strictObject({
  recordingId: z.string(),
  /** Where its first sample lies on the first member's time. */
  offsetSeconds: z.number().min(-1e6).max(1e6),
  /** By how much its clock is faster than the first one's. */
  driftPpm: z.number().min(-1000).max(1000),
  /** 0 to 1; 1 where a person laid it there. */
  confidence: z.number().min(0).max(1),
});

export const MOST_MEMBERS = 16;

/** Recordings of one session by several microphones or recorders: they stay in step. */
export const recordingSet = z.object({
  id: z.string(),
  titleId: z.string(),
  members: z.array(setMember),
  createdAt: z.string(),
});

export const newSet = z.strictObject({
  recordingIds: z.array(z.string()).min(2, 'A set has two members at least.').max(MOST_MEMBERS),
  /** Links them even where they seem to have nothing in common: such a one begins with the first. */
  anyway: z.boolean().default(false),
});

/** Members as they are to be, some of them laid otherwise; what is not named leaves the set. */
export const setChange = z.strictObject({
  members: z
    .array(setMember.extend({ confidence: setMember.shape.confidence.default(1) }))
    .min(2, 'A set has two members at least.')
    .max(MOST_MEMBERS),
});

export type SetMember = z.output<typeof setMember>;
export type RecordingSet = z.output<typeof recordingSet>;
export type NewSet = z.output<typeof newSet>;
export type SetChange = z.output<typeof setChange>;
