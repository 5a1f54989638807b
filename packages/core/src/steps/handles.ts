/** A point in the picture of a response that can be taken hold of. */
export interface Handle<S> {
  label: string;
  frequencyHz: number;
  gainDb: number;
  /** Whether its gain can be moved too. */
  movesGain: boolean;
  /** The settings with this point elsewhere. */
  moved(frequencyHz: number, gainDb: number): S;
}

interface Point {
  frequencyHz: number;
  gainDb: number;
}

/**
 * A handle for each point of a list.
 * @param moved the settings with that point in place of the one at an index
 */
export const handlesOfPoints = <S, P extends Point>(
  name: string,
  points: readonly P[],
  moved: (points: P[]) => S,
  movesGain: (point: P) => boolean = () => true,
): Handle<S>[] =>
  points.map((point, index) => ({
    label: `${name} ${index + 1}`,
    frequencyHz: point.frequencyHz,
    gainDb: movesGain(point) ? point.gainDb : 0,
    movesGain: movesGain(point),
    moved: (frequencyHz, gainDb) =>
      moved(points.with(index, { ...point, frequencyHz, ...(movesGain(point) && { gainDb }) })),
  }));
