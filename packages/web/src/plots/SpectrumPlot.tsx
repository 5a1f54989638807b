import type { LongTermSpectrum } from '@tonos/core';
import { FrequencyGrid, LevelGrid, pointsOf } from './FrequencyGrid.tsx';
import classes from './SpectrumPlot.module.css';

const WIDTH = 326;
const HEIGHT = 108;
const LOW_HZ = 25;
const HIGH_HZ = 20000;
const SPAN_DB = 96;

const x = (hz: number) => (WIDTH * Math.log(hz / LOW_HZ)) / Math.log(HIGH_HZ / LOW_HZ);

/** Long-term spectra in sixth octaves: where it is loud in ink, where it is quiet thin. */
export function SpectrumPlot({ centresHz, loudDb, quietDb }: LongTermSpectrum) {
  const highest = Math.max(...loudDb.filter((db) => db !== null), -200);
  const top = Math.ceil((highest + 3) / 12) * 12;
  const y = (db: number) => Math.min(HEIGHT, ((top - db) / SPAN_DB) * HEIGHT);
  const line = (values: readonly (number | null)[]) => pointsOf(centresHz, values, x, y).join(' ');
  return (
    <svg
      className={classes.plot}
      viewBox={`0 0 ${WIDTH} ${HEIGHT + 14}`}
      role="img"
      aria-label="Long-term spectrum, loud and quiet"
    >
      <FrequencyGrid x={x} height={HEIGHT} />
      <LevelGrid top={top} y={y} width={WIDTH} />
      <polyline className={classes.quiet} points={line(quietDb)} />
      <polyline className={classes.loud} points={line(loudDb)} />
    </svg>
  );
}
