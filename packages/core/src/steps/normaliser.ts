import { dbToGain } from '../signal/decibels.ts';
import type { Block, SignalFormat } from '../signal/signal.ts';
import { RampedGain } from './ramped-gain.ts';
import type { Findings, Study } from './step.ts';

export interface LevelFindings extends Findings {
  /** The level that was heard, in the normaliser's own unit; null for silence. */
  readonly heardDb: number | null;
}

/** Silence can't be brought to a level: it is left alone, and the findings say so. */
const gainFor = (aimDb: number, heardDb: number | null): number => (heardDb === null ? 1 : dbToGain(aimDb - heardDb));

/** What the three normalisers share: hear a level, then apply the one gain that brings it to the aim. */
export function normaliser<Settings>(
  aim: (settings: Settings) => number,
  listen: (settings: Settings, format: SignalFormat) => { hear(block: Block): void; level(): number },
) {
  return {
    studiesScope: true,
    study: (settings: Settings, format: SignalFormat): Study<LevelFindings> => {
      const listener = listen(settings, format);
      return {
        hear: (block) => listener.hear(block),
        conclude: () => {
          const level = listener.level();
          if (!Number.isFinite(level))
            return { heardDb: null, note: 'There is no level to bring anywhere: the sound is silent.' };
          return { heardDb: level, gainDb: aim(settings) - level };
        },
      };
    },
    start: (settings: Settings, format: SignalFormat, findings: LevelFindings) =>
      new RampedGain(settings, format, (now) => gainFor(aim(now), findings.heardDb)),
  };
}
