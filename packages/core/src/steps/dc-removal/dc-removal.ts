import type * as z from 'zod';
import { settingsOf } from '../../settings/settings.ts';
import type { Block } from '../../signal/signal.ts';
import { defineStep, type Findings, noTrace, type Processor } from '../step.ts';

interface DcFindings extends Findings {
  /** Mean of each channel, 1 = full scale. */
  readonly means: readonly number[];
}

/** Takes the same from every sample: the spectrum above 0 Hz stays as it is, which a high-pass would not leave alone. */
export const dcRemoval = defineStep<Record<string, never>, DcFindings>({
  kind: 'dc-removal',
  title: 'DC removal',
  group: 'repair',
  summary: 'Takes away a constant offset, as some converters leave one.',
  words: ['offset', 'dc', 'centre line', 'click at the start'],
  settings: settingsOf(() => ({})) as z.ZodType<Record<string, never>>,
  describe: () => 'each channel\u2019s own mean',
  study: (_, { channels }) => {
    const sums = new Float64Array(channels);
    let frames = 0;
    return {
      hear: (block) => {
        block.forEach((channel, c) => {
          let sum = 0;
          for (let i = 0; i < channel.length; i++) sum += channel[i];
          sums[c] += sum;
        });
        frames += block[0].length;
      },
      conclude: () => ({ means: Array.from(sums, (sum) => sum / Math.max(1, frames)) }),
    };
  },
  start: (_, __, { means }) => new MeanRemover(means),
});

class MeanRemover implements Processor {
  readonly latencyFrames = 0;
  readonly takeTrace = noTrace;

  constructor(private readonly means: readonly number[]) {}

  update(): void {
    // there is nothing to set
  }

  process(block: Block): void {
    block.forEach((channel, c) => {
      const mean = this.means[c];
      if (mean) for (let i = 0; i < channel.length; i++) channel[i] -= mean;
    });
  }
}
