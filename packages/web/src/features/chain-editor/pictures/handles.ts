import type { EditedStep } from '../chain-slice.ts';

/** A point in a response that can be taken hold of. */
export interface Handle {
  label: string;
  frequencyHz: number;
  gainDb: number;
  /** Whether its gain can be moved too. */
  movesGain: boolean;
  /** The settings with this point elsewhere. */
  moved(frequencyHz: number, gainDb: number): Record<string, unknown>;
}

interface Point {
  frequencyHz: number;
  gainDb: number;
}

/** The points of a step's response: bands, points, or the corner of a cut. */
export function handlesOf({ kind, settings }: EditedStep): Handle[] {
  if (kind === 'high-pass' || kind === 'low-pass') {
    const frequencyHz = Number(settings.frequencyHz ?? (kind === 'high-pass' ? 80 : 16000));
    return [
      {
        label: 'Corner',
        frequencyHz,
        gainDb: -3.01,
        movesGain: false,
        moved: (hz) => ({ ...settings, frequencyHz: hz }),
      },
    ];
  }
  const list = kind === 'parametric-eq' ? 'bands' : kind === 'point-eq' ? 'points' : null;
  if (!list) return [];
  const points = (settings[list] ?? []) as (Point & { shape?: string; on?: boolean })[];
  return points.flatMap((point, index): Handle[] =>
    point.on === false
      ? []
      : [
          {
            label: `${list === 'bands' ? 'Band' : 'Point'} ${index + 1}`,
            frequencyHz: point.frequencyHz ?? 1000,
            gainDb: point.shape === 'notch' ? 0 : (point.gainDb ?? 0),
            movesGain: point.shape !== 'notch',
            moved: (frequencyHz, gainDb) => ({
              ...settings,
              [list]: points.with(index, {
                ...point,
                frequencyHz,
                ...(point.shape === 'notch' ? {} : { gainDb }),
              }),
            }),
          },
        ],
  );
}
