import { LIMITABLE_MEASURES, type LimitableMeasure } from '@tonos/core';
import * as z from 'zod';

/** The measures by which a title is looked at, chapter by chapter. */
export const TITLE_MEASURES = [
  'integratedLufs',
  'rmsDbfs',
  'noiseFloorDbfs',
  'loudnessRangeLu',
  'truePeakDbtp',
  'durationSeconds',
] as const satisfies readonly LimitableMeasure[];

export const titleMeasure = z.enum(TITLE_MEASURES).meta({
  description: TITLE_MEASURES.map((key) => LIMITABLE_MEASURES[key].title).join(', '),
});

/** What was delivered of a recording last; what it came in with says the recording itself. */
export const deliveredFigures = z.object({
  recordingId: z.string(),
  runId: z.string(),
  itemId: z.string(),
  delivered: z.record(titleMeasure, z.number().nullable()),
});

export type TitleMeasure = z.output<typeof titleMeasure>;
export type DeliveredFigures = z.output<typeof deliveredFigures>;
