import { ThumpMeter, thumpPass } from '../../measure/complaints/thump-meter.ts';
import { hertzFigure, plainFigure } from '../../signal/figures.ts';
import { defineStep } from '../step.ts';
import { PlosiveProcessor } from './processor.ts';
import { type PlosiveFindings, type PlosiveSettings, settings } from './settings.ts';

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
  studied: ({ frequencyHz }) => frequencyHz,
  study: ({ frequencyHz }, format) => {
    const meter = new ThumpMeter(format, thumpPass(frequencyHz, format.sampleRateHz));
    return { hear: (block) => meter.hear(block), conclude: () => ({ thumps: meter.conclude() }) };
  },
  start: (first, format, { thumps }, firstFrame) => new PlosiveProcessor(first, format, thumps, firstFrame),
});
