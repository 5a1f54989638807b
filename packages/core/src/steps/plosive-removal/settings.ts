import type * as z from 'zod';
import { hertz, settingsOf, share } from '../../settings/settings.ts';
import type { Findings } from '../step.ts';

export const settings = settingsOf(() => ({
  sensitivity: share('Sensitivity', { min: 0, max: 1, default: 0.5, description: 'More finds weaker thumps.' }),
  frequencyHz: hertz('Below', {
    min: 80,
    max: 300,
    default: 160,
    description: 'What lies under this is taken out of a thump.',
  }),
}));

export type PlosiveSettings = z.output<typeof settings>;

export interface PlosiveFindings extends Findings {
  /** Thumps by channel: start, end, how far over the voice's usual low sound in dB. */
  readonly thumps: readonly (readonly (readonly [startSeconds: number, endSeconds: number, overDb: number])[])[];
}

/** How far over the voice's usual low sound a thump must stand. */
export const leastOverDb = ({ sensitivity }: PlosiveSettings): number => 15 - 12 * sensitivity;
