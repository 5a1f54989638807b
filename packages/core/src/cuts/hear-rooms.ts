import { speechEdgesOf } from '../measure/activity/speech-edges.ts';
import type { RoomToneChoice } from '../measure/room-tone-choice.ts';
import type { Block, CancelSignal, Source } from '../signal/signal.ts';
import { readStretches } from '../time/room-tone-stretches.ts';
import { levelled, nearestStretches, roomStretches } from './room-near.ts';

/**
 * How long a source is, and stretches of its room near each of some moments, at one level for each. It is read twice.
 * @param choice where people said that the room sounds by itself, or surely not
 */
export async function hearRooms(
  source: Source,
  choice: RoomToneChoice | undefined,
  moments: readonly number[],
  signal?: CancelSignal,
): Promise<{ frames: number; rooms: Block[][] }> {
  const heard = await speechEdgesOf(source, signal);
  const there = roomStretches(heard, choice, []);
  const wanted = moments.map((moment) => nearestStretches(there, moment));
  const read = await readStretches(source, wanted.flat(), { signal });
  let next = 0;
  const rooms = wanted.map(({ length }) => {
    const own = read.slice(next, next + length);
    next += length;
    return levelled(own, source.format);
  });
  return { frames: heard.frames, rooms };
}
