import { decibels, onOff, settingsOf } from '../../settings/settings.ts';
import { dbToGain } from '../../signal/decibels.ts';
import { signedFigure } from '../../signal/figures.ts';
import { RampedGain } from '../ramped-gain.ts';
import { defineStep } from '../step.ts';

export const gain = defineStep({
  kind: 'gain',
  title: 'Gain',
  group: 'level',
  summary: 'Turns everything up or down by the same amount.',
  words: ['volume', 'louder', 'quieter', 'turn up', 'turn down', 'polarity', 'flip'],
  settings: settingsOf(() => ({
    gainDb: decibels('Gain', { min: -60, max: 60, default: 0 }),
    invertPolarity: onOff('Invert polarity', false),
  })),
  traits: { raisesDb: ({ gainDb }) => gainDb },
  describe: ({ gainDb, invertPolarity }) => `${signedFigure(gainDb)} dB${invertPolarity ? ', polarity inverted' : ''}`,
  start: (settings, format) =>
    new RampedGain(settings, format, ({ gainDb, invertPolarity }) => dbToGain(gainDb) * (invertPolarity ? -1 : 1)),
});
