import type * as z from 'zod';
import { TruePeakMeter } from '../../dsp/true-peak.ts';
import { LevelMeter } from '../../measure/levels.ts';
import { choice, decibelsFullScale, settingsOf } from '../../settings/settings.ts';
import { gainToDb } from '../../signal/decibels.ts';
import { figure } from '../../signal/figures.ts';
import { normaliser } from '../normaliser.ts';
import { defineStep } from '../step.ts';

const settings = settingsOf(() => ({
  peakDb: decibelsFullScale('Peak', { min: -30, max: 0, default: -3 }),
  peak: choice('Kind of peak', ['sample', 'true'], {
    default: 'sample',
    labels: { sample: 'Sample peak', true: 'True peak' },
  }),
}));
type Settings = z.output<typeof settings>;

export const peakNormalise = defineStep({
  kind: 'peak-normalise',
  title: 'Peak normalise',
  group: 'level',
  summary: 'Brings the highest peak to a level.',
  words: ['normalize', 'peak', 'level', 'maximum'],
  settings,
  traits: { setsLevel: true, raisesDb: () => Number.POSITIVE_INFINITY },
  describe: ({ peakDb, peak }: Settings) =>
    `${peak === 'true' ? 'true' : 'sample'} peak to ${figure(peakDb)} ${peak === 'true' ? 'dBTP' : 'dBFS'}`,
  ...normaliser(
    ({ peakDb }: Settings) => peakDb,
    ({ peak }, format) => {
      if (peak === 'true') {
        const meter = new TruePeakMeter(format.channels);
        return { hear: (block) => meter.hear(block), level: () => gainToDb(meter.conclude()) };
      }
      const meter = new LevelMeter(format.channels);
      return { hear: (block) => meter.hear(block), level: () => gainToDb(meter.conclude().samplePeak) };
    },
  ),
});
