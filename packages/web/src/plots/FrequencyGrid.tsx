import classes from './FrequencyGrid.module.css';

export const HERTZ_LINES: readonly number[] = [50, 100, 200, 500, 1000, 2000, 5000, 10000];

const hertzText = (hz: number) => (hz >= 1000 ? `${hz / 1000}k` : String(hz));

/** The upright lines of a drawing over frequency, with their figures below. */
export function FrequencyGrid({ x, height }: { x(hz: number): number; height: number }) {
  return HERTZ_LINES.map((hz) => (
    <g key={hz}>
      <line className={classes.rule} x1={x(hz)} x2={x(hz)} y1={0} y2={height} />
      <text className={classes.text} x={x(hz)} y={height + 12} textAnchor="middle">
        {hertzText(hz)}
      </text>
    </g>
  ));
}

interface LevelGridProps {
  /** The level at the top edge, in dB; lines lie 24 dB apart below it. */
  top: number;
  y(db: number): number;
  width: number;
}

/** The level lines of a spectrum. */
export function LevelGrid({ top, y, width }: LevelGridProps) {
  return [1, 3, 5, 7].map((n) => {
    const db = top - 12 * n;
    return (
      <g key={n}>
        <line className={classes.rule} x1={0} x2={width} y1={y(db)} y2={y(db)} />
        <text className={classes.text} x={width} y={y(db) - 3} textAnchor="end">
          {String(db).replace('-', '\u2212')}
        </text>
      </g>
    );
  });
}

/** The points of a line through levels, left out where there is none. */
export const pointsOf = (
  centresHz: readonly number[],
  values: readonly (number | null)[],
  x: (hz: number) => number,
  y: (db: number) => number,
): string[] => values.flatMap((db, i) => (db === null ? [] : [`${x(centresHz[i]).toFixed(1)},${y(db).toFixed(1)}`]));
