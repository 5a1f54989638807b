import type { Measurement } from '@tonos/core';
import type { Playable } from './listening-slice.ts';

/** A recording as something to listen to. */
export const sourceOf = (recordingId: string, { integratedLufs, durationSeconds }: Measurement): Playable => ({
  url: `/api/recordings/${recordingId}/audio`,
  overview: { recordingId },
  loudnessLufs: integratedLufs,
  seconds: durationSeconds,
});
