import type * as z from 'zod';
import { decibels, settingsOf } from '../../settings/settings.ts';
import type { Findings } from '../step.ts';
import type { Ceilings } from './ceiling-study.ts';

export const settings = settingsOf(() => ({
  headroomDb: decibels('Headroom', {
    min: 0,
    max: 12,
    default: 6,
    description: 'How far rebuilt peaks may rise above the flat top.',
  }),
}));

export type DeclipSettings = z.output<typeof settings>;

export interface DeclipFindings extends Findings {
  /** The level of the flat tops of each channel, above and below; null where there is none. */
  readonly ceilings?: readonly Ceilings[];
  readonly note?: string;
}
