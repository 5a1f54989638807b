import { ROUTES, type RunItem } from '@tonos/contract';
import type { Measurement, SpectralBox } from '@tonos/core';
import { pathOf } from '../api/request.ts';
import type { CutTrack, Track } from './engine/messages.ts';
import type { Playable } from './listening-slice.ts';

/** A measured file as samples to be asked for. */
export const trackOf = (
  url: string,
  { sampleRateHz, channels, durationSeconds }: Measurement,
  boxes: SpectralBox[] = [],
  cut?: CutTrack,
): Track => ({
  url,
  sampleRateHz,
  channels,
  frames: Math.round(durationSeconds * sampleRateHz),
  boxes,
  ...(cut?.cuts.length && { cut }),
});

export const samplesOf = (recordingId: string): string => pathOf(ROUTES.recordingSamples, { id: recordingId });

/** A recording as something to listen to. */
export const sourceOf = (
  recordingId: string,
  measurement: Measurement,
  boxes: SpectralBox[] = [],
  cut?: CutTrack,
): Playable => ({
  track: trackOf(samplesOf(recordingId), measurement, boxes, cut),
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
