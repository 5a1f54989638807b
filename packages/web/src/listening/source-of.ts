import { pathOf, type Recording, ROUTES, type RunItem } from '@tonos/contract';
import {
  type Measurement,
  type RoomToneChoice,
  type SpectralBox,
  type TimeCut,
  type TimeSpan,
  withoutNever,
} from '@tonos/core';
import type { CutTrack, FileTrack } from './engine/messages.ts';
import type { Playable } from './listening-slice.ts';

/** A measured file as samples to be asked for. */
export const trackOf = (
  url: string,
  { sampleRateHz, channels, durationSeconds }: Measurement,
  boxes: SpectralBox[] = [],
  cut?: CutTrack,
): FileTrack => ({
  url,
  sampleRateHz,
  channels,
  frames: Math.round(durationSeconds * sampleRateHz),
  boxes,
  ...(cut?.cuts.length && { cut }),
});

export const samplesOf = (recordingId: string): string => pathOf(ROUTES.recordingSamples, { id: recordingId });

/** What is there of the recordings that pick-ups come from. */
export const pickUpTracks = (cuts: readonly TimeCut[], others: readonly Recording[]): CutTrack['pickUps'] =>
  Object.fromEntries(
    cuts.flatMap((cut) => {
      const other = cut.kind === 'pick-up' ? others.find(({ id }) => id === cut.recordingId) : undefined;
      return other?.measurement ? [[other.id, trackOf(samplesOf(other.id), other.measurement)]] : [];
    }),
  );

/** Where a recording's own room sounds, as far as people and the meter know. */
export const roomToneOf = ({ roomTone }: Measurement, choice: RoomToneChoice): TimeSpan[] => [
  ...choice.use,
  ...withoutNever(roomTone, choice),
];

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
