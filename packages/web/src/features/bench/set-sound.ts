import type { Recording, RecordingSet, SetMember } from '@tonos/contract';
import { dbToGain, gainToDb, identityMap } from '@tonos/core';
import type { LivePart } from '../../listening/engine/messages.ts';
import type { Playable } from '../../listening/listening-slice.ts';
import { samplesOf, trackOf } from '../../listening/source-of.ts';
import { onTimeOf } from './member-time.ts';

/** A set as it is heard on the time of one of its members: all of it, or another one of it alone. As it was recorded, without cuts. */

/** So long a member runs by its own clock before it is put in step again, over a short crossfade. */
const IN_STEP_SECONDS = 20;
const CROSSFADE_SECONDS = 0.02;

type Measured = Recording & { measurement: NonNullable<Recording['measurement']> };

const isMeasured = (recording: Recording | undefined): recording is Measured => Boolean(recording?.measurement);

/**
 * @param heard the id of the member that is heard alone; all of them, where it is null
 * @returns undefined where nothing of them can be heard
 */
export function setSound(
  own: Recording,
  set: RecordingSet,
  recordings: readonly Recording[],
  heard: string | null,
): Playable | undefined {
  const lead = set.members.find(({ recordingId }) => recordingId === own.id);
  if (!lead || !isMeasured(own)) return undefined;
  const { sampleRateHz, durationSeconds } = own.measurement;
  const sounding = set.members.flatMap((member) => {
    const recording = recordings.find(({ id }) => id === member.recordingId);
    const isWanted = heard === null || heard === member.recordingId;
    return isWanted && isMeasured(recording) ? [{ member, recording }] : [];
  });
  if (!sounding.length) return undefined;
  const channels = Math.max(...sounding.map(({ recording }) => recording.measurement.channels));
  // together they may be louder than there is room for
  const most = sounding.reduce((sum, { recording }) => sum + dbToGain(recording.measurement.samplePeakDbfs ?? -150), 0);
  const parts = sounding.flatMap(({ member, recording }) => partsOf(member, recording, lead, own.measurement));
  return {
    track: {
      url: `set ${set.id} ${heard ?? 'all'} on ${own.id}`,
      sampleRateHz,
      channels,
      frames: Math.round(durationSeconds * sampleRateHz),
      boxes: [],
      programme: { groups: [{ parts, gainDb: Math.min(0, -gainToDb(most)), lines: [] }] },
    },
    overview: { recordingId: own.id },
    loudnessLufs: null,
    seconds: durationSeconds,
  };
}

/** A member in stretches, each begun where its clock is right. */
function partsOf(
  member: SetMember,
  { id, measurement, boxes }: Measured,
  lead: SetMember,
  { sampleRateHz, durationSeconds }: Measured['measurement'],
): LivePart[] {
  const there = onTimeOf(member, lead, { fromSeconds: 0, toSeconds: measurement.durationSeconds });
  const [from, to] = [Math.max(0, there.fromSeconds), Math.min(durationSeconds, there.toSeconds)];
  const stretch = member.driftPpm === lead.driftPpm ? to - from : IN_STEP_SECONDS;
  const parts: LivePart[] = [];
  for (let at = from; at < to; at += stretch) {
    const [isFirst, isLast] = [at === from, at + stretch >= to];
    const start = isFirst ? at : at - CROSSFADE_SECONDS / 2;
    const end = isLast ? to : at + stretch + CROSSFADE_SECONDS / 2;
    const [startFrame, endFrame] = [start, end].map((seconds) => Math.round(seconds * sampleRateHz));
    if (endFrame <= startFrame) continue;
    const fade = (isEdge: boolean) => ({
      frames: isEdge ? 0 : CROSSFADE_SECONDS * sampleRateHz,
      shape: 'linear' as const,
    });
    parts.push({
      track: trackOf(samplesOf(id), measurement, boxes),
      map: identityMap(measurement.durationSeconds),
      fromSeconds: onTimeOf(lead, member, { fromSeconds: startFrame / sampleRateHz, toSeconds: 0 }).fromSeconds,
      levelDb: 0,
      placed: {
        part: { gainDb: 0, pan: 0 },
        start: startFrame,
        end: endFrame,
        ownFrames: endFrame - startFrame,
        openings: [],
        fadeIn: fade(isFirst),
        fadeOut: fade(isLast),
      },
    });
  }
  return parts;
}
