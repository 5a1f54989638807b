import type { Selection } from './markings.ts';
import { isBox } from './markings.ts';

/** The end of a stretch that keys move; of a box the same for its frequencies. */
export type Edge = 'start' | 'end';

/** How far a choice can reach. */
export interface Bounds {
  totalSeconds: number;
  lowestHz: number;
  highestHz: number;
}

export interface Chosen {
  selection: Selection;
  edge: Edge;
}

const within = (value: number, low: number, high: number) => Math.min(high, Math.max(low, value));

/** Moves one end in time; moved past the other, it is the other one that moves on. */
export function movedInTime({ selection, edge }: Chosen, bySeconds: number, { totalSeconds }: Bounds): Chosen {
  const { startSeconds, endSeconds } = selection;
  const [moving, still] = edge === 'start' ? [startSeconds, endSeconds] : [endSeconds, startSeconds];
  const at = within(moving + bySeconds, 0, totalSeconds);
  return {
    selection: { ...selection, startSeconds: Math.min(at, still), endSeconds: Math.max(at, still) },
    edge: at === still ? edge : at < still ? 'start' : 'end',
  };
}

/** Moves the lower or the higher frequency; a stretch becomes a box of all frequencies first. They do not pass each other. */
export function movedInPitch({ selection, edge }: Chosen, byOctaves: number, bounds: Bounds): Chosen {
  const { lowestHz, highestHz } = bounds;
  const box = isBox(selection) ? selection : { ...selection, lowHz: lowestHz, highHz: highestHz };
  const moved =
    edge === 'start'
      ? { ...box, lowHz: within(box.lowHz * 2 ** byOctaves, lowestHz, box.highHz) }
      : { ...box, highHz: within(box.highHz * 2 ** byOctaves, box.lowHz, highestHz) };
  return { selection: moved, edge };
}
