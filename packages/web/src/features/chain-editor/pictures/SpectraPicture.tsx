import type { LongTermSpectrum } from '@tonos/core';
import { FrequencyGrid, LevelGrid, pointsOf } from '../../../plots/FrequencyGrid.tsx';
import { shareOfHertz } from './frequency-axis.ts';
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
  const points = (centres: readonly number[], values: readonly (number | null)[]) => pointsOf(centres, values, x, y);
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
        <FrequencyGrid x={x} height={HEIGHT} />
        <LevelGrid top={top} y={y} width={WIDTH} />
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
