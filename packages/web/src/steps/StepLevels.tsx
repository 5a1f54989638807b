import { figure, type LedgerFigures } from '@tonos/core';
import classes from './StepLevels.module.css';

const SHOWN = [
  ['integratedLufs', 'LUFS'],
  ['truePeakDbtp', 'dBTP'],
  ['noiseFloorDbfs', 'floor'],
] as const satisfies readonly (readonly [keyof LedgerFigures, string])[];

/** What was measured at a place of a chain, in a line; faint while something has changed since. */
export const StepLevels = ({ figures, fresh }: { figures: LedgerFigures | undefined; fresh: boolean }) => (
  <span className={classes.levels} data-old={!fresh || undefined}>
    {SHOWN.map(([measure, unit]) => {
      const value = figures?.[measure] ?? null;
      return (
        <span key={measure} className={classes.level}>
          {value === null ? '\u2013' : figure(value)} <span className="unit">{unit}</span>
        </span>
      );
    })}
  </span>
);
