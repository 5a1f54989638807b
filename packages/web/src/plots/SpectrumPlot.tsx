import { figure, type LongTermSpectrum } from '@tonos/core';
import classes from './SpectrumPlot.module.css';

const WIDTH = 326;
const HEIGHT = 108;
const LOW_HZ = 25;
const HIGH_HZ = 20000;
const HERTZ = [50, 100, 200, 500, 1000, 2000, 5000, 10000];
const SPAN_DB = 96;

const x = (hz: number) => (WIDTH * Math.log(hz / LOW_HZ)) / Math.log(HIGH_HZ / LOW_HZ);
const hertzText = (hz: number) => (hz >= 1000 ? `${hz / 1000}k` : String(hz));

/** Long-term spectra in sixth octaves: where it is loud in ink, where it is quiet thin. */
export function SpectrumPlot({ centresHz, loudDb, quietDb }: LongTermSpectrum) {
  const highest = Math.max(...loudDb.filter((db) => db !== null), -200);
  const top = Math.ceil((highest + 3) / 12) * 12;
  const y = (db: number) => Math.min(HEIGHT, ((top - db) / SPAN_DB) * HEIGHT);
  const line = (values: readonly (number | null)[]) =>
    values.flatMap((db, i) => (db === null ? [] : [`${x(centresHz[i]).toFixed(1)},${y(db).toFixed(1)}`])).join(' ');
  return (
    <svg
      className={classes.plot}
      viewBox={`0 0 ${WIDTH} ${HEIGHT + 14}`}
      role="img"
      aria-label="Long-term spectrum, loud and quiet"
    >
      {HERTZ.map((hz) => (
        <g key={hz}>
          <line className={classes.rule} x1={x(hz)} x2={x(hz)} y1={0} y2={HEIGHT} />
          <text className={classes.text} x={x(hz)} y={HEIGHT + 11} textAnchor="middle">
            {hertzText(hz)}
          </text>
        </g>
      ))}
      {[1, 3, 5, 7].map((n) => (
        <g key={n}>
          <line className={classes.rule} x1={0} x2={WIDTH} y1={y(top - 12 * n)} y2={y(top - 12 * n)} />
          <text className={classes.text} x={WIDTH} y={y(top - 12 * n) - 2} textAnchor="end">
            {figure(top - 12 * n, 0)}
          </text>
        </g>
      ))}
      <polyline className={classes.quiet} points={line(quietDb)} />
      <polyline className={classes.loud} points={line(loudDb)} />
    </svg>
  );
}
