import * as z from 'zod';
import type { ConfiguredStep } from '../chain/chain-file.ts';
import { defineStep } from '../steps/step.ts';
import { BoxProcessor } from './box-processor.ts';
import { type SpectralBox, spectralBox } from './spectral-box.ts';

const settings = z.strictObject({ boxes: z.array(spectralBox) });

/** In no chain: boxes belong to a recording, and run before its chain's first step. */
const boxes = defineStep<z.output<typeof settings>>({
  kind: 'boxes',
  title: 'Boxes',
  group: 'repair',
  summary: 'Turns down what was marked in this recording\u2019s spectrogram.',
  words: [],
  settings,
  describe: (given) => `${given.boxes.length} turned down`,
  start: (given, format) => new BoxProcessor(given.boxes, format),
});

/**
 * The step that applies a recording's boxes; none where it has none.
 * @param fromSeconds of the recording at which the stretch begins that is heard by itself
 */
export function boxSteps(given: readonly SpectralBox[], fromSeconds = 0): ConfiguredStep[] {
  const there = given
    .filter(({ endSeconds }) => endSeconds > fromSeconds)
    .map((box) => ({
      ...box,
      startSeconds: box.startSeconds - fromSeconds,
      endSeconds: box.endSeconds - fromSeconds,
    }));
  return there.length ? [{ id: 'boxes', definition: boxes, mix: 1, settings: { boxes: there } }] : [];
}
