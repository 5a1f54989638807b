import { ROUTES } from '@tonos/contract';
import type { Measurement, SpectralBox } from '@tonos/core';
import { pathOf } from '../api/request.ts';
import type { Track } from './engine/messages.ts';
import type { Playable } from './listening-slice.ts';

/** A measured file as samples to be asked for. */
export const trackOf = (
  url: string,
  { sampleRateHz, channels, durationSeconds }: Measurement,
  boxes: SpectralBox[] = [],
): Track => ({ url, sampleRateHz, channels, frames: Math.round(durationSeconds * sampleRateHz), boxes });

/** A recording as something to listen to. */
export const sourceOf = (recordingId: string, measurement: Measurement, boxes: SpectralBox[] = []): Playable => ({
  track: trackOf(pathOf(ROUTES.recordingSamples, { id: recordingId }), measurement, boxes),
  overview: { recordingId },
  loudnessLufs: measurement.integratedLufs,
  seconds: measurement.durationSeconds,
});
