import * as z from 'zod';

/** A box in a recording's spectrogram that is turned down: a cough, a phone, a squeaking chair. */
export const spectralBox = z.strictObject({
  startSeconds: z.number().min(0).max(1e6),
  endSeconds: z.number().min(0).max(1e6),
  lowHz: z.number().min(0).max(96_000),
  highHz: z.number().min(0).max(96_000),
  /** At most 0: boxes turn down. */
  gainDb: z.number().min(-80).max(0),
});

export type SpectralBox = z.output<typeof spectralBox>;
