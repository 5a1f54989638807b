import type { PlacedPart } from '@tonos/core';

/** A plate's ink: the wave of a recording as it lies in the programme, opened, cut or repeated. */

export interface PlateShape {
  /** Pixels a frame of the programme. */
  scale: number;
  height: number;
}

/** The stretches in which a part sounds by itself, in frames from its begin. */
export function soundingSpans({ start, end, openings }: PlacedPart): { from: number; to: number; ownFrom: number }[] {
  const spans: { from: number; to: number; ownFrom: number }[] = [];
  let [from, own] = [0, 0];
  for (const { at, frames } of openings) {
    const to = from + at - own;
    spans.push({ from, to, ownFrom: own });
    [from, own] = [to + frames, at];
  }
  spans.push({ from, to: end - start, ownFrom: own });
  return spans.filter(({ from, to }) => to > from);
}

/** @param columns smallest and largest sample, over the part's own sound; @returns an SVG path of one stroke a pixel */
export function wavePath(
  placed: PlacedPart,
  columns: readonly (readonly [number, number])[],
  { scale, height }: PlateShape,
): string {
  if (!columns.length || placed.ownFrames <= 0) return '';
  const middle = height / 2;
  const half = middle - 3;
  const strokes: string[] = [];
  for (const { from, to, ownFrom } of soundingSpans(placed)) {
    // a hair, so that a round place is not rounded past itself
    for (let x = Math.ceil(from * scale - 1e-6); x < to * scale - 1e-6; x++) {
      const own = (ownFrom + (x + 0.5) / scale - from) % placed.ownFrames;
      const [low, high] = columns[Math.min(columns.length - 1, Math.floor((own / placed.ownFrames) * columns.length))];
      strokes.push(`M${x + 0.5} ${(middle - high * half).toFixed(1)}V${(middle - low * half + 0.5).toFixed(1)}`);
    }
  }
  return strokes.join('');
}

/**
 * Which lane of its band each part is drawn in: parts that overlap lie one under the other.
 * @param reach from where to where one is drawn with all that is written at it, in frames
 */
export function lanesOf(
  parts: readonly PlacedPart[],
  reach: (placed: PlacedPart) => readonly [from: number, to: number] = ({ start, end }) => [start, end],
): Map<string, number> {
  const ends: number[] = [];
  const lanes = new Map<string, number>();
  const drawn = parts.map((placed) => ({ part: placed.part, reach: reach(placed) }));
  for (const { part, reach: own } of drawn.sort((a, b) => a.reach[0] - b.reach[0])) {
    const free = ends.findIndex((lastEnd) => lastEnd <= own[0]);
    const lane = free < 0 ? ends.length : free;
    ends[lane] = own[1];
    lanes.set(part.id, lane);
  }
  return lanes;
}
