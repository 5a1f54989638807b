import { figure, type LedgerFigures } from '@tonos/core';
import classes from './LevelCells.module.css';

export const SHOWN_LEVELS = [
  ['integratedLufs', 'LUFS', 'Loudness, gated, in LUFS'],
  ['truePeakDbtp', 'dBTP', 'True peak in dBTP'],
  ['noiseFloorDbfs', 'Floor', 'Noise floor in dBFS'],
] as const satisfies readonly (readonly [keyof LedgerFigures, string, string])[];

/** The heads of the ledger's columns. */
export const LevelHeads = () =>
  SHOWN_LEVELS.map(([measure, head, meaning]) => (
    <th key={measure} className="number" title={meaning}>
      {head}
    </th>
  ));

/** What a row measures; faint while something has changed since. */
export const LevelCells = ({ figures, fresh }: { figures: LedgerFigures | undefined; fresh: boolean }) =>
  SHOWN_LEVELS.map(([measure]) => {
    const value = figures?.[measure] ?? null;
    return (
      <td key={measure} className={`number figure ${fresh ? '' : classes.old}`}>
        {value === null ? '\u2013' : figure(value)}
      </td>
    );
  });
