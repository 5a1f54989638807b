import { figure, type LongTermSpectrum } from '@tonos/core';
import { HERTZ_LINES, hertzText, shareOfHertz } from './frequency-axis.ts';
import classes from './Pictures.module.css';

const WIDTH = 620;
const HEIGHT = 168;
const SPAN_DB = 96;

/** Where it is quiet and where it is loud, before a step and after it: what it takes away, and what it leaves. */
export function SpectraPicture({ before, after }: { before: LongTermSpectrum; after: LongTermSpectrum }) {
  const highest = Math.max(-200, ...before.loudDb.filter((db) => db !== null));
  const top = Math.ceil((highest + 3) / 12) * 12;
  const x = (hz: number) => WIDTH * shareOfHertz(hz);
  const y = (db: number) => Math.max(0, Math.min(HEIGHT, ((top - db) / SPAN_DB) * HEIGHT));
  const points = (centres: readonly number[], values: readonly (number | null)[]) =>
    values.flatMap((db, i) => (db === null ? [] : [`${x(centres[i]).toFixed(1)},${y(db).toFixed(1)}`]));
  const quietBefore = points(before.centresHz, before.quietDb);
  const quietAfter = points(after.centresHz, after.quietDb);
  return (
    <figure className={classes.figure}>
      <svg
        className={classes.plot}
        viewBox={`0 0 ${WIDTH} ${HEIGHT + 16}`}
        role="img"
        aria-label="Spectra before and after"
      >
        {HERTZ_LINES.map((hz) => (
          <g key={hz}>
            <line className={classes.rule} x1={x(hz)} x2={x(hz)} y1={0} y2={HEIGHT} />
            <text className={classes.text} x={x(hz)} y={HEIGHT + 12} textAnchor="middle">
              {hertzText(hz)}
            </text>
          </g>
        ))}
        {[1, 3, 5, 7].map((n) => (
          <g key={n}>
            <line className={classes.rule} x1={0} x2={WIDTH} y1={y(top - 12 * n)} y2={y(top - 12 * n)} />
            <text className={classes.text} x={WIDTH} y={y(top - 12 * n) - 3} textAnchor="end">
              {figure(top - 12 * n, 0)}
            </text>
          </g>
        ))}
        <polygon className={classes.taken} points={[...quietBefore, ...quietAfter.toReversed()].join(' ')} />
        <polyline className={classes.spectrumBefore} points={points(before.centresHz, before.loudDb).join(' ')} />
        <polyline className={classes.spectrumAfter} points={points(after.centresHz, after.loudDb).join(' ')} />
        <polyline className={classes.quietAfter} points={quietAfter.join(' ')} />
      </svg>
      <figcaption className={classes.caption}>
        <span>
          loud <span className={classes.keyBefore} /> before <span className={classes.keyAfter} /> after; quiet, shaded:
          what is taken away. dBFS a sixth octave
        </span>
      </figcaption>
    </figure>
  );
}
