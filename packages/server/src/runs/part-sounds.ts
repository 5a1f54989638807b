import type { SetMember } from '@tonos/contract';
import { jointMembers, type KnownMember, type Placement } from '@tonos/core';
import { type EntityManager, In, IsNull } from 'typeorm';
import { RecordingEntity } from '../recordings/recording-entity.ts';
import { RecordingSetEntity } from '../sets/set-entity.ts';
import { deliveredSounds } from './delivered-sounds.ts';

/** A recording that is linked with the one that a part is told by. */
export interface LinkedSound {
  recording: RecordingEntity;
  place: Placement;
}

/** What a part sounds of: a recording, what was delivered of one, or, told by the first of them, several that are linked. */
export type PartSound = RecordingEntity & { linked?: { place: Placement; others: LinkedSound[] } };

/** All that a part is made from. */
export const recordingsIn = (sound: PartSound): RecordingEntity[] => [
  sound,
  ...(sound.linked?.others ?? []).map(({ recording }) => recording),
];

/** What fills places, by the ids that name it: recordings, items whose deliveries are within or accepted, and sets. Those that are not there are left out. */
export async function soundsById(manager: EntityManager, ids: readonly string[]): Promise<Map<string, PartSound>> {
  const recordings = await manager.findBy(RecordingEntity, { id: In([...ids]) });
  const known = new Map<string, PartSound>(recordings.map((recording) => [recording.id, recording]));
  const left = () => ids.filter((id) => !known.has(id));
  if (left().length) for (const [id, sound] of await deliveredSounds(manager, left())) known.set(id, sound);
  if (left().length) for (const [id, sound] of await linkedSounds(manager, left())) known.set(id, sound);
  return known;
}

/** Sets as what their members sound like together, each in its newest take. One of which fewer than two are left is none. */
async function linkedSounds(manager: EntityManager, setIds: readonly string[]): Promise<Map<string, PartSound>> {
  const sets = await manager.findBy(RecordingSetEntity, { id: In([...setIds]) });
  const members = sets.flatMap((set) => set.members);
  const recordings = await manager.findBy(RecordingEntity, {
    id: In(members.map(({ recordingId }) => recordingId)),
    trashedAt: IsNull(),
    removedAt: IsNull(),
    superseded: false,
  });
  const known = new Map(recordings.map((recording) => [recording.id, recording]));
  return new Map(
    sets.flatMap((set) => {
      const there = set.members.flatMap((member: SetMember) => {
        const recording = known.get(member.recordingId);
        const { offsetSeconds, driftPpm } = member;
        return recording ? [{ recording, place: { offsetSeconds, driftPpm } }] : [];
      });
      if (there.length < 2) return [];
      const [{ recording, place }, ...others] = there;
      return [[set.id, { ...recording, linked: { place, others } }] as const];
    }),
  );
}

/** What is known of a part\u2019s sound by its measurements: how long it is, what is cut of it, and what is marked. */
export interface ForetoldSound {
  durationSeconds: number;
  channels: number;
  cuts: RecordingEntity['cuts'];
  marks: RecordingEntity['marks'];
}

/** @returns undefined where not all of it is measured */
export function foretoldSound(sound: PartSound): ForetoldSound | undefined {
  const { measurement, cuts, marks, linked } = sound;
  if (!measurement) return undefined;
  if (!linked) return { ...measurement, cuts, marks };
  const own: LinkedSound = { recording: sound, place: linked.place };
  const members = [own, ...linked.others].flatMap(({ recording, place }) => {
    const known = knownMember(recording, place);
    return known ? [known] : [];
  });
  if (members.length <= linked.others.length) return undefined;
  const { span, cuts: joint, marks: all } = jointMembers(members);
  return {
    durationSeconds: span.endSeconds - span.startSeconds,
    channels: Math.min(2, Math.max(...members.map(({ format }) => format.channels))),
    cuts: joint[0],
    marks: all,
  };
}

function knownMember(
  { measurement, cuts, marks }: RecordingEntity,
  place: Placement,
): KnownMember<RecordingEntity['marks'][number]> | undefined {
  if (!measurement) return undefined;
  const { sampleRateHz, channels, durationSeconds } = measurement;
  return { place, frames: Math.round(durationSeconds * sampleRateHz), format: { sampleRateHz, channels }, cuts, marks };
}
