import * as z from 'zod';
import { ThumpMeter } from '../../measure/complaints/thump-meter.ts';
import { hertz, share } from '../../settings/settings.ts';
import { hertzFigure, plainFigure } from '../../signal/figures.ts';
import { defineStep, type Findings } from '../step.ts';
import { PlosiveProcessor } from './processor.ts';

const settings = z.strictObject({
  sensitivity: share('Sensitivity', { min: 0, max: 1, default: 0.5, description: 'More finds weaker thumps.' }),
  frequencyHz: hertz('Below', {
    min: 80,
    max: 300,
    default: 160,
    description: 'What lies under this is taken out of a thump.',
  }),
});

export type PlosiveSettings = z.output<typeof settings>;

export interface PlosiveFindings extends Findings {
  /** Thumps by channel: start, end, how far over the voice's usual low sound in dB. */
  readonly thumps: readonly (readonly (readonly [startSeconds: number, endSeconds: number, overDb: number])[])[];
}

/** How far over the voice's usual low sound a thump must stand. */
export const leastOverDb = ({ sensitivity }: PlosiveSettings): number => 15 - 12 * sensitivity;

export const plosiveRemoval = defineStep<PlosiveSettings, PlosiveFindings>({
  kind: 'plosive-removal',
  title: 'Plosive removal',
  group: 'repair',
  summary: 'Takes the thump of breath on the microphone out of p and b sounds, and leaves everything else alone.',
  words: ['plosive', 'pop', 'thump', 'p sounds', 'breath blast', 'wind', 'boom'],
  settings,
  describe: ({ sensitivity, frequencyHz }) =>
    `below ${hertzFigure(frequencyHz)}, sensitivity ${plainFigure(sensitivity)}`,
  findingsInTime: true,
  study: ({ frequencyHz }, format) => {
    const meter = new ThumpMeter(format, frequencyHz);
    return { hear: (block) => meter.hear(block), conclude: () => ({ thumps: meter.conclude() }) };
  },
  start: (first, format, { thumps }, firstFrame) => new PlosiveProcessor(first, format, thumps, firstFrame),
});
