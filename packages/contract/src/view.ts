import * as z from 'zod';

/** Some rows of a long list; all of them where nothing is said. */
export const rowsQuery = z.object({
  from: z.coerce.number().int().min(0).max(1e6).default(0),
  count: z.coerce.number().int().min(1).max(10_000).optional(),
});

export type RowsQuery = z.output<typeof rowsQuery>;

const seconds = z.coerce.number().min(0).max(1e6);

/** A stretch of a recording, and in how many columns it is drawn. */
export const viewQuery = z
  .object({ from: seconds, to: seconds, columns: z.coerce.number().int().min(1).max(4096) })
  .refine(({ from, to }) => to > from, { message: 'The end lies before the start.', path: ['to'] });

export const spectrogramQuery = viewQuery.safeExtend({ rows: z.coerce.number().int().min(1).max(1024) });

/** Frames are counted from 0. A call gives as many as it may; a stretch that reaches over the end gives fewer. */
export const samplesQuery = z.object({
  from: z.coerce.number().int().min(0).max(Number.MAX_SAFE_INTEGER),
  frames: z.coerce
    .number()
    .int()
    .min(1)
    .max(1 << 18),
});

const line = z.array(z.number().nullable());

export const recordingView = z.object({
  fromSeconds: z.number(),
  toSeconds: z.number(),
  channels: z.array(z.object({ low: z.array(z.number()), high: z.array(z.number()), rms: z.array(z.number()) })),
  samples: z
    .object({ firstSeconds: z.number(), sampleRateHz: z.number(), values: z.array(z.array(z.number())) })
    .nullable(),
  momentaryLufs: line,
  shortTermLufs: line,
  /** By column: the largest true peak in dBTP, null under -6. */
  truePeaksDbtp: line,
  /** Columns that hold a flat top. */
  flatTops: z.array(z.number()),
  speech: z.array(z.object({ startSeconds: z.number(), endSeconds: z.number() })),
});

const levels = z.array(z.number().nullable());

/** Long-term spectra in sixth octaves, and how often each level occurs; null for what was surveyed by an older version. */
export const recordingSpectrum = z.object({
  spectrum: z
    .object({
      centresHz: z.array(z.number()),
      loudDb: levels,
      quietDb: levels,
      levels: z.object({
        bottomDb: z.number(),
        stepDb: z.number(),
        secondsEach: z.number(),
        counts: z.array(z.number()),
      }),
    })
    .nullable(),
});

export type RecordingSpectrum = z.output<typeof recordingSpectrum>;
export type ViewQuery = z.output<typeof viewQuery>;
export type SamplesQuery = z.output<typeof samplesQuery>;
export type SpectrogramQuery = z.output<typeof spectrogramQuery>;
export type RecordingView = z.output<typeof recordingView>;
