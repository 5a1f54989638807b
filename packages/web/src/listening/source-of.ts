import { ROUTES, type RunItem } from '@tonos/contract';
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

/** What a run made of a recording, as something to listen to; null where its file is not there. */
export function deliveredOf({
  id,
  runId,
  after,
  output,
  cleared,
  timeMap,
}: Pick<RunItem, 'id' | 'runId' | 'after' | 'output' | 'cleared' | 'timeMap'>): Playable | null {
  if (!after || !output || cleared) return null;
  const url = `${pathOf(ROUTES.outputSamples, { id: runId, itemId: id })}?v=${output.sha256.slice(0, 8)}`;
  return {
    track: trackOf(url, after),
    overview: { runId, itemId: id, sha256: output.sha256 },
    ...(timeMap && { timeMap }),
    loudnessLufs: after.integratedLufs,
    seconds: after.durationSeconds,
  };
}
