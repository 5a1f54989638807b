import { ActivityMeter } from '../../measure/activity/activity.ts';
import { LoudnessMeter } from '../../measure/loudness.ts';
import type { Block, SignalFormat } from '../../signal/signal.ts';
import type { Findings, Study } from '../step.ts';

export const POINTS_PER_SECOND = 10;

export interface LevellerFindings extends Findings {
  /** Loudness of each 100 ms of speech in LUFS, to a tenth; null in pauses. Ten a second. */
  readonly levels: readonly (number | null)[];
}

/** Where somebody speaks, and how loud. */
export class LevelStudy implements Study<LevellerFindings> {
  private readonly loudness: LoudnessMeter;
  private readonly activity: ActivityMeter;

  constructor(format: SignalFormat) {
    this.loudness = new LoudnessMeter(format, { subBlocks: true });
    this.activity = new ActivityMeter(format);
  }

  hear(block: Block): void {
    this.loudness.hear(block);
    this.activity.hear(block);
  }

  conclude(): LevellerFindings {
    const { speech } = this.activity.conclude();
    const loudness = this.loudness.tenths;
    const levels: (number | null)[] = new Array(loudness.length).fill(null);
    for (const { startSeconds, endSeconds } of speech) {
      const [from, to] = [Math.floor(startSeconds * POINTS_PER_SECOND), Math.ceil(endSeconds * POINTS_PER_SECOND)];
      for (let i = from; i < Math.min(to, levels.length); i++)
        if (Number.isFinite(loudness[i])) levels[i] = Math.round(loudness[i] * 10) / 10;
    }
    return { levels };
  }
}
