import type { TitleMeasure } from '@tonos/contract';
import { differenceUnit, figure, LIMITABLE_MEASURES, signedFigure } from '@tonos/core';
import { clock } from '../../ui/time.ts';
import type { ChapterFigure } from './chapter-figures.ts';

/** "2.0 LU under the window", "4:10 longer than most". */
export function outlierText(measure: TitleMeasure, { by, from }: NonNullable<ChapterFigure['outlier']>): string {
  if (measure === 'durationSeconds')
    return `${clock(Math.abs(by))} ${by > 0 ? 'longer' : 'shorter'} than ${from === 'window' ? 'its target has it' : 'most'}`;
  const much = `${figure(Math.abs(by))} ${differenceUnit(LIMITABLE_MEASURES[measure].unit)}`;
  return `${much} ${by > 0 ? 'over' : 'under'} the ${from}`;
}

/** What the chain made of it. */
export const changeText = (measure: TitleMeasure, { source, delivered }: ChapterFigure): string => {
  if (source === null || delivered === null) return '';
  if (measure === 'durationSeconds')
    return Math.abs(delivered - source) < 0.05 ? '' : `${signedFigure(delivered - source)} s`;
  return signedFigure(delivered - source);
};
