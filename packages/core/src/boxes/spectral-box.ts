import * as z from 'zod';

/** A box in a recording's spectrogram that is turned down: a cough, a phone, a squeaking chair. */
export const spectralBox = z.strictObject({
  /** By which people change it; it does nothing to the sound. */
  id: z.string().min(1).max(64).optional(),
  startSeconds: z.number().min(0).max(1e6),
  endSeconds: z.number().min(0).max(1e6),
  lowHz: z.number().min(0).max(96_000),
  highHz: z.number().min(0).max(96_000),
  /** At most 0: boxes turn down. */
  gainDb: z.number().min(-80).max(0),
});

export type SpectralBox = z.output<typeof spectralBox>;
