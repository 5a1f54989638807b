import type * as z from 'zod';
import { LevelMeter } from '../../measure/levels.ts';
import { decibelsFullScale, settingsOf } from '../../settings/settings.ts';
import { powerToDb } from '../../signal/decibels.ts';
import { figure } from '../../signal/figures.ts';
import { normaliser } from '../normaliser.ts';
import { defineStep } from '../step.ts';

const settings = settingsOf(() => ({ rmsDbfs: decibelsFullScale('RMS', { min: -40, max: -8, default: -20 }) }));
type Settings = z.output<typeof settings>;

export const rmsNormalise = defineStep({
  kind: 'rms-normalise',
  title: 'RMS normalise',
  group: 'level',
  summary: 'Brings the RMS of the whole recording to a level.',
  words: ['normalize', 'rms', 'level', 'audiobook'],
  settings,
  traits: { setsLevel: true, raisesDb: () => Number.POSITIVE_INFINITY },
  describe: ({ rmsDbfs }: Settings) => `to ${figure(rmsDbfs)} dBFS RMS`,
  ...normaliser(
    ({ rmsDbfs }: Settings) => rmsDbfs,
    (_, format) => {
      const meter = new LevelMeter(format.channels);
      return { hear: (block) => meter.hear(block), level: () => powerToDb(meter.conclude().meanSquare) };
    },
  ),
});
