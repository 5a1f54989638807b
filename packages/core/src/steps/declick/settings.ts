import type * as z from 'zod';
import { choice, settingsOf, share } from '../../settings/settings.ts';

export const settings = settingsOf(() => ({
  clicks: choice('Clicks', ['both', 'digital', 'mouth'], {
    default: 'both',
    labels: { both: 'Digital and mouth', digital: 'Digital only', mouth: 'Mouth only' },
    description: 'Digital: single samples and jumps. Mouth: the smack of lips and tongue.',
  }),
  sensitivity: share('Sensitivity', { min: 0, max: 1, default: 0.5, description: 'More finds smaller clicks.' }),
}));

export type DeclickSettings = z.output<typeof settings>;
