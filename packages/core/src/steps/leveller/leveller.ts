import { plainFigure } from '../../signal/figures.ts';
import { defineStep } from '../step.ts';
import { type LevellerFindings, LevelStudy } from './level-study.ts';
import { LevellerProcessor } from './processor.ts';
import { type LevellerSettings, settings } from './settings.ts';

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
  studied: () => null,
  study: (_, format) => new LevelStudy(format),
  start: (first, format, findings, firstFrame) => new LevellerProcessor(first, format, findings, firstFrame),
});
