import type { LongTermSpectrum } from '@tonos/core';
import { SpectrumChart } from '../../plots/SpectrumChart.tsx';
import classes from './Pictures.module.css';

/** Where it is quiet and where it is loud, before a step and after it: what it takes away, and what it leaves. */
export function SpectraPicture({ before, after }: { before: LongTermSpectrum; after: LongTermSpectrum }) {
  return (
    <figure className={`${classes.figure} ${classes.plot}`}>
      <SpectrumChart
        label="Spectra before and after"
        centresHz={before.centresHz}
        lines={[
          { name: 'quiet before', strong: false, values: before.quietDb },
          { name: 'quiet after', strong: true, values: after.quietDb },
          { name: 'loud before', strong: false, values: before.loudDb },
          { name: 'loud after', strong: true, values: after.loudDb },
        ]}
        taken={{ from: before.quietDb, to: after.quietDb }}
        heightPx={190}
      />
      <figcaption className={classes.caption}>
        <span>
          <span className={classes.keyBefore} /> before <span className={classes.keyAfter} /> after, loud above and
          quiet below; shaded: what is taken away. dBFS a sixth octave
        </span>
      </figcaption>
    </figure>
  );
}
