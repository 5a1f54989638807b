import * as z from 'zod';
import { decibels } from '../../settings/settings.ts';
import { plainFigure } from '../../signal/figures.ts';
import { defineStep, type Findings } from '../step.ts';
import { CeilingStudy, type Ceilings } from './ceiling-study.ts';
import { DeclipProcessor } from './processor.ts';

const settings = z.strictObject({
  headroomDb: decibels('Headroom', {
    min: 0,
    max: 12,
    default: 6,
    description: 'How far rebuilt peaks may rise above the flat top.',
  }),
});

export type DeclipSettings = z.output<typeof settings>;

export interface DeclipFindings extends Findings {
  /** The level of the flat tops of each channel, above and below; null where there is none. */
  readonly ceilings?: readonly Ceilings[];
  readonly note?: string;
}

export const declip = defineStep<DeclipSettings, DeclipFindings>({
  kind: 'declip',
  title: 'Declip',
  group: 'repair',
  summary: 'Rebuilds the peaks that a recording lost where it was too loud.',
  words: ['clipping', 'clipped', 'overload', 'distorted', 'flat tops', 'too loud'],
  settings,
  traits: { needsWaveAsRecorded: true, mendsClipping: true },
  describe: ({ headroomDb }) => `up to ${plainFigure(headroomDb)} dB over the flat tops`,
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
