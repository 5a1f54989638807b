import { figure, type LedgerFigures, signedFigure } from '@tonos/core';
import { memo } from 'react';
import { COLUMNS } from './columns.ts';
import classes from './Ledger.module.css';

interface FigureCellsProps {
  figures: LedgerFigures | undefined;
  /** The row above: what changed is told against it. */
  before?: LedgerFigures | undefined;
  /** Figures of the steps as they were a moment ago. */
  stale?: boolean;
}

/** Smaller changes are rounding. */
const LEAST_CHANGE = 0.05;

/** A row's figures, and what changed against the row above. */
export const FigureCells = memo(function FigureCells({ figures, before, stale }: FigureCellsProps) {
  return (
    <span className={classes.figures} data-stale={stale || undefined} aria-busy={stale || undefined}>
      {COLUMNS.map(({ key }) => {
        const value = figures?.[key] ?? null;
        const earlier = before?.[key] ?? null;
        const change = value === null || earlier === null ? 0 : value - earlier;
        return (
          <span key={key} className={classes.pair}>
            <span className={classes.value}>{figures ? (value === null ? '\u2013' : figure(value)) : ''}</span>
            <span className={classes.change}>{Math.abs(change) >= LEAST_CHANGE ? signedFigure(change) : ''}</span>
          </span>
        );
      })}
    </span>
  );
});

export const FigureHeads = memo(function FigureHeads() {
  return (
    <span className={classes.figures}>
      {COLUMNS.map(({ key, title, unit }) => (
        <span key={key} className={classes.columnHead}>
          {title} <span className="unit">{unit}</span>
        </span>
      ))}
    </span>
  );
});
