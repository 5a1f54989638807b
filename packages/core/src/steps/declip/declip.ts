import { plainFigure } from '../../signal/figures.ts';
import { defineStep } from '../step.ts';
import { CeilingStudy } from './ceiling-study.ts';
import { DeclipProcessor } from './processor.ts';
import { type DeclipFindings, type DeclipSettings, settings } from './settings.ts';

export const declip = defineStep<DeclipSettings, DeclipFindings>({
  kind: 'declip',
  title: 'Declip',
  group: 'repair',
  summary: 'Rebuilds the peaks that a recording lost where it was too loud.',
  words: ['clipping', 'clipped', 'overload', 'distorted', 'flat tops', 'too loud'],
  settings,
  traits: { needsWaveAsRecorded: true, mendsClipping: true },
  describe: ({ headroomDb }) => `up to ${plainFigure(headroomDb)} dB over the flat tops`,
  studied: () => null,
  study: (_, format) => {
    const study = new CeilingStudy(format.channels);
    return {
      hear: (block) => study.hear(block),
      conclude: () => {
        const ceilings = study.conclude();
        const none = ceilings.every(({ high, low }) => high === null && low === null);
        return none ? { note: 'No flat tops were found; the recording was left as it is.' } : { ceilings };
      },
    };
  },
  start: (first, format, findings) => new DeclipProcessor(first, format, findings),
});
