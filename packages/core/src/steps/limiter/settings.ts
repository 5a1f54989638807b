import type * as z from 'zod';
import { decibels, decibelsTruePeak, milliseconds, settingsOf } from '../../settings/settings.ts';

export const settings = settingsOf(() => ({
  ceilingDbtp: decibelsTruePeak('Ceiling', { min: -20, max: 0, default: -1 }),
  lookaheadMs: milliseconds('Look-ahead', { min: 0.5, max: 20, default: 5 }),
  releaseMs: milliseconds('Release', { min: 10, max: 1000, default: 100 }),
  inputGainDb: decibels('Input gain', { min: 0, max: 24, default: 0 }),
}));

export type LimiterSettings = z.output<typeof settings>;
