import { HERTZ_LINES, hertzText } from './chart-look.ts';
import classes from './FrequencyGrid.module.css';

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

/** The points of a line through levels, left out where there is none. */
export const pointsOf = (
  centresHz: readonly number[],
  values: readonly (number | null)[],
  x: (hz: number) => number,
  y: (db: number) => number,
): string[] => values.flatMap((db, i) => (db === null ? [] : [`${x(centresHz[i]).toFixed(1)},${y(db).toFixed(1)}`]));
