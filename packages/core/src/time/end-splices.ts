import type { Block, SignalFormat } from '../signal/signal.ts';
import { RoomToneFill } from './room-tone-fill.ts';
import type { Filling, Splice } from './splice.ts';

/** Something for both ends of a signal: frames, say. */
export interface Ends {
  head: number;
  tail: number;
}

/** Room tone, or silence where there are no stretches of it. */
export const filling = (stretches: readonly Block[], frames: number, format: SignalFormat): Filling => {
  // thousands of them may wait for their places
  let fill: RoomToneFill | undefined;
  return {
    frames,
    take: (count) => {
      fill ??= new RoomToneFill(stretches, format.channels, format.sampleRateHz);
      return fill.take(count);
    },
  };
};

/**
 * Splices that make the ends of a signal longer, or shorter where a change is negative.
 * @param change in frames; @param quiet frames without speech at the ends: joins keep to them
 */
export function endSplices(change: Ends, quiet: Ends, frames: number, fill: (frames: number) => Filling): Splice[] {
  const at = (startFrame: number, endFrame: number, added: number, still: number): Splice => ({
    startFrame,
    endFrame,
    ...(added > 0 && { filling: fill(added) }),
    mostJoinFrames: Math.max(0, still),
  });
  const splices: Splice[] = [];
  const headEnd = Math.max(0, -change.head);
  const tailStart = frames - Math.max(0, -change.tail);
  if (change.head) splices.push(at(0, headEnd, change.head, quiet.head - headEnd));
  if (change.tail) splices.push(at(tailStart, frames, change.tail, quiet.tail - (frames - tailStart)));
  return splices;
}
