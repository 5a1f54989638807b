import { LevelMeter } from '../measure/levels.ts';
import { LoudnessMeter } from '../measure/loudness.ts';
import type { SoundFigures } from '../measure/measurement.ts';
import { powerToDb } from '../signal/decibels.ts';
import type { Block, SignalFormat } from '../signal/signal.ts';
import type { Limit, TargetFile } from './target-file.ts';

/** The one level that a target wants a recording to be brought to. */

type AimedMeasure = 'integratedLufs' | 'rmsDbfs';

export const aimOf = (limits: readonly Limit[]): { measure: AimedMeasure; aim: number } | undefined => {
  const found = limits.find(
    ({ measure, aim }) => aim !== undefined && (measure === 'integratedLufs' || measure === 'rmsDbfs'),
  );
  return found && { measure: found.measure as AimedMeasure, aim: found.aim! };
};

/** The level of the measure that a target aims for; null where it aims for none, or there is none. */
export function levelAimedFor(target: TargetFile, figures: Pick<SoundFigures, AimedMeasure>): number | null {
  const aim = aimOf(target.limits);
  return aim ? figures[aim.measure] : null;
}

/** The level of the measure that is aimed for. */
export class AimMeter {
  private readonly loudness: LoudnessMeter | undefined;
  private readonly levels: LevelMeter;

  constructor(measure: AimedMeasure | undefined, format: SignalFormat) {
    this.loudness = measure === 'integratedLufs' ? new LoudnessMeter(format) : undefined;
    this.levels = new LevelMeter(format.channels);
  }

  hear(block: Block): void {
    this.loudness?.hear(block);
    this.levels.hear(block);
  }

  /** Minus infinity where there is none. */
  conclude(): { levelDb: number; peakDb: number; silent: boolean } {
    const { meanSquare, samplePeak } = this.levels.conclude();
    return {
      levelDb: this.loudness ? this.loudness.conclude().integratedLufs : powerToDb(meanSquare),
      peakDb: powerToDb(samplePeak ** 2),
      silent: meanSquare === 0,
    };
  }
}
