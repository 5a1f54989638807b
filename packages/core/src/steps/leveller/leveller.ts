import * as z from 'zod';
import { decibels, loudnessUnits, seconds } from '../../settings/settings.ts';
import { plainFigure } from '../../signal/figures.ts';
import { defineStep } from '../step.ts';
import { type LevellerFindings, LevelStudy } from './level-study.ts';
import { LevellerProcessor } from './processor.ts';

const settings = z.strictObject({
  shortTermLufs: loudnessUnits('Level', {
    min: -40,
    max: -10,
    default: -18,
    description: 'Where the speech is brought to.',
  }),
  rangeDb: decibels('Range', { min: 0, max: 24, default: 10, description: 'It is turned up or down by no more.' }),
  speedSeconds: seconds('Speed', {
    min: 0.5,
    max: 10,
    default: 2,
    description: 'How long a stretch of speech the level is read over: shorter evens out more.',
  }),
});

export type LevellerSettings = z.output<typeof settings>;

export const leveller = defineStep<LevellerSettings, LevellerFindings>({
  kind: 'leveller',
  title: 'Leveller',
  group: 'dynamics',
  summary: 'Rides the level as a hand on a fader would: brings speakers together, and holds still in pauses.',
  words: ['ride', 'even out', 'two speakers', 'distance', 'automatic gain', 'uneven', 'far and near'],
  settings,
  traits: { ridesLevel: true, evensSpeech: true, raisesDb: ({ rangeDb }) => rangeDb },
  describe: ({ shortTermLufs, rangeDb, speedSeconds }) =>
    `to ${plainFigure(shortTermLufs)} LUFS, at most ${plainFigure(rangeDb)} dB, over ${plainFigure(speedSeconds)} s`,
  traces: { gainDb: { title: 'Gain', unit: 'dB' } },
  findingsInTime: true,
  study: (_, format) => new LevelStudy(format),
  start: (first, format, findings, firstFrame) => new LevellerProcessor(first, format, findings, firstFrame),
});
