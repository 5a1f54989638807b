import type { Recording } from '@tonos/contract';
import {
  foretoldPart,
  InvalidOrderError,
  type KnownPart,
  type OrderFault,
  type OrderFile,
  type OrderPart,
  type PlacedPart,
  type ResolvedOrder,
  resolveOrder,
} from '@tonos/core';

/** A running order laid out in the page, by what is known of its recordings without reading them. */

/** As finely as figures are shown. */
export const RATE = 48_000;
/** What fills no place yet is drawn so long. */
const NOMINAL_SECONDS = 60;

/** What fills the places where the order is looked at: recordings, by place. */
export type Fill = Readonly<Record<string, string>>;

export interface LaidOutOrder {
  resolved?: ResolvedOrder;
  faults: readonly OrderFault[];
}

export const recordingIdOf = ({ source }: OrderPart, fill: Fill): string | undefined =>
  'place' in source ? fill[source.place] : source.recording;

export function layOutOrder(order: OrderFile, recordings: ReadonlyMap<string, Recording>, fill: Fill): LaidOutOrder {
  const known = new Map(
    order.parts.map((part) => [part.id, knownOf(part, recordings.get(recordingIdOf(part, fill) ?? ''), order)]),
  );
  try {
    return { resolved: resolveOrder(order, known, RATE), faults: [] };
  } catch (error) {
    if (error instanceof InvalidOrderError) return { faults: (error.details.faults ?? []) as OrderFault[] };
    throw error;
  }
}

function knownOf(part: OrderPart, recording: Recording | undefined, { parts }: OrderFile): KnownPart {
  const measured = recording?.measurement;
  if (!recording || !measured) {
    // nothing is known of its marks: those that are wanted are taken to be there, one after the other
    const wanted = parts.flatMap(({ begins }) => ('into' in begins && begins.into === part.id ? [begins.mark] : []));
    const marks = wanted.map((name, i) => ({
      name,
      frame: Math.round((RATE * NOMINAL_SECONDS * (i + 1)) / (wanted.length + 1)),
    }));
    return { frames: NOMINAL_SECONDS * RATE, channels: 1, marks };
  }
  return foretoldPart(part, { ...measured, cuts: recording.cuts, marks: recording.marks }, RATE);
}

/** The order laid out anew, with those parts of before that have not moved: what shows them is not drawn again. */
export function withUnmoved(before: ResolvedOrder | undefined, now: ResolvedOrder): ResolvedOrder {
  const known = new Map(before?.parts.map((placed) => [placed.part, placed]));
  const same = (placed: PlacedPart) => {
    const own = known.get(placed.part);
    return own && JSON.stringify(own) === JSON.stringify(placed) ? own : placed;
  };
  return { ...now, parts: now.parts.map(same) };
}

export const secondsOf = (frames: number): number => frames / RATE;
