import type * as z from 'zod';
import { LoudnessMeter } from '../../measure/loudness.ts';
import { loudnessUnits, settingsOf } from '../../settings/settings.ts';
import { figure } from '../../signal/figures.ts';
import { normaliser } from '../normaliser.ts';
import { defineStep } from '../step.ts';

const settings = settingsOf(() => ({ integratedLufs: loudnessUnits('Loudness', { min: -40, max: -8, default: -16 }) }));
type Settings = z.output<typeof settings>;

export const loudnessNormalise = defineStep({
  kind: 'loudness-normalise',
  title: 'Loudness normalise',
  group: 'level',
  summary: 'Brings the integrated loudness of the whole recording to a level (EBU R 128).',
  words: ['normalize', 'lufs', 'loudness', 'level', 'r128'],
  settings,
  traits: { setsLevel: true, raisesDb: () => Number.POSITIVE_INFINITY },
  describe: ({ integratedLufs }: Settings) => `to ${figure(integratedLufs)} LUFS`,
  ...normaliser(
    ({ integratedLufs }: Settings) => integratedLufs,
    (_, format) => {
      const meter = new LoudnessMeter(format);
      return { hear: (block) => meter.hear(block), level: () => meter.conclude().integratedLufs };
    },
  ),
});
