import { type Block, type CancelSignal, hearRooms, type SignalFormat } from '@tonos/core';
import { openAudio } from '@tonos/formats';
import type { MarkedByHand } from './cut-recording.ts';

export interface HeardMember {
  format: SignalFormat;
  frames: number;
  /** Stretches of its room, for what it lacks of its set's time. */
  room: readonly Block[];
}

/** What a set has to know of a member before its time can be put right. */
export async function hearMember(
  { path, name, byHand }: { path: string; name: string; byHand?: Partial<MarkedByHand> },
  signal?: CancelSignal,
): Promise<HeardMember> {
  const audio = await openAudio(path, name);
  try {
    const { format } = audio;
    const { frames, rooms } = await hearRooms(audio, byHand?.roomTone, [0], signal);
    return { format, frames, room: rooms[0] };
  } finally {
    await audio.close();
  }
}
