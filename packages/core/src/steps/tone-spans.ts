import type { RoomTone } from '../measure/activity/room-tone.ts';
import { withoutNever } from '../measure/room-tone-choice.ts';
import type { KnownOfRecording } from './step.ts';

export interface ToneSpan {
  startSeconds: number;
  endSeconds: number;
}

/** Where the room sounds by itself: what people said, before what was found and not ruled out. */
export function knownTone(found: readonly RoomTone[], { roomTone }: KnownOfRecording): ToneSpan[] {
  const own = roomTone?.use ?? [];
  const rest = roomTone ? withoutNever(found, roomTone) : found;
  return [...own, ...rest].map(({ startSeconds, endSeconds }) => ({ startSeconds, endSeconds }));
}
