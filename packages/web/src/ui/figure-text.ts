import { figure, LIMITABLE_MEASURES, type LimitableMeasure } from '@tonos/core';
import { clock } from './time.ts';

/** A measure as it stands in a table. */
export const figureText = (measure: LimitableMeasure, value: number | null): string =>
  value === null
    ? '\u2013'
    : measure === 'durationSeconds'
      ? clock(value)
      : figure(value, LIMITABLE_MEASURES[measure].decimals);
