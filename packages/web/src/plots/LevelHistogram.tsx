import type { LongTermSpectrum } from '@tonos/core';
import classes from './SpectrumPlot.module.css';

const WIDTH = 326;
const HEIGHT = 64;
const FROM_DB = -90;
const LABELS = [-80, -60, -40, -20, 0];

/** How much of a recording has each level: the room and the voice stand apart as two hills. */
export function LevelHistogram({ bottomDb, stepDb, counts }: LongTermSpectrum['levels']) {
  const x = (db: number) => (WIDTH * (db - FROM_DB)) / -FROM_DB;
  const shown = counts.map((count, i) => ({ db: bottomDb + i * stepDb, count })).filter(({ db }) => db >= FROM_DB);
  const most = Math.max(1, ...shown.map(({ count }) => count));
  return (
    <svg
      className={classes.plot}
      viewBox={`0 0 ${WIDTH} ${HEIGHT + 14}`}
      role="img"
      aria-label="How often each level occurs"
    >
      {shown.map(({ db, count }) => (
        <rect
          key={db}
          className={classes.bar}
          x={x(db)}
          width={Math.max(0, x(db + stepDb) - x(db) - 1)}
          y={HEIGHT * (1 - count / most)}
          height={(HEIGHT * count) / most}
        />
      ))}
      <line className={classes.base} x1={0} x2={WIDTH} y1={HEIGHT} y2={HEIGHT} />
      {LABELS.map((db) => (
        <text key={db} className={classes.text} x={x(db)} y={HEIGHT + 11} textAnchor={db === 0 ? 'end' : 'middle'}>
          {db === 0 ? '0' : `\u2212${-db}`}
        </text>
      ))}
    </svg>
  );
}
