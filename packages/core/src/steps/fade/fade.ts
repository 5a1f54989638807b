import type * as z from 'zod';
import { applyFades, FADE_SHAPES, fittedFades, riseAt } from '../../dsp/fades.ts';
import { noTrace } from '../../dsp/processor.ts';
import { choice, seconds, settingsOf } from '../../settings/settings.ts';
import { plainFigure } from '../../signal/figures.ts';
import { type Block, framesOf, type SignalFormat } from '../../signal/signal.ts';
import { defineStep, type Processor } from '../step.ts';

const settings = settingsOf(() => ({
  inSeconds: seconds('Fade in', { min: 0, max: 60, default: 0 }),
  outSeconds: seconds('Fade out', { min: 0, max: 60, default: 0 }),
  shape: choice('Shape', FADE_SHAPES, {
    default: 's-curve',
    labels: { linear: 'Straight', 'equal-power': 'Equal power', 's-curve': 'S-curve' },
  }),
}));
type Settings = z.output<typeof settings>;

interface Heard {
  [name: string]: unknown;
  frames?: number;
  seconds?: number;
}

export const fade = defineStep<Settings, Heard>({
  kind: 'fade',
  title: 'Fade',
  group: 'time',
  summary: 'Lets the recording come up at its start and go down at its end.',
  words: ['fade in', 'fade out', 'start', 'end', 'soft'],
  settings,
  describe: ({ inSeconds, outSeconds }) =>
    [inSeconds > 0 && `in over ${plainFigure(inSeconds)} s`, outSeconds > 0 && `out over ${plainFigure(outSeconds)} s`]
      .filter(Boolean)
      .join(', ') || 'nothing yet',
  findingsInTime: true,
  studied: () => null,
  needsStudy: ({ outSeconds, inSeconds }) => outSeconds > 0 || inSeconds > 0,
  traits: { unstudied: {}, fadesEnds: true },
  findingsVersion: 2,
  curves: {
    envelope: ({ inSeconds, outSeconds, shape }, { seconds: length = Number.POSITIVE_INFINITY }) => {
      // lengths here are seconds, and fit alike
      const [rise, fall] = fittedFades({ frames: inSeconds, shape }, { frames: outSeconds, shape }, length);
      const share = (at: number, over: number) => (over > 0 ? at / over : 1);
      return (at) => riseAt(shape, share(at, rise.frames)) * riseAt(shape, share(length - at, fall.frames));
    },
  },
  study: (_, { sampleRateHz }) => {
    let frames = 0;
    return {
      hear: (block) => {
        frames += framesOf(block);
      },
      conclude: () => ({ frames, seconds: frames / sampleRateHz }),
    };
  },
  start: (given, format, { frames }, firstFrame = 0) => new Fading(given, format, frames, firstFrame),
});

/** Without the signal's length, only its start fades. */
class Fading implements Processor<Settings> {
  readonly latencyFrames = 0;
  readonly takeTrace = noTrace;

  constructor(
    private settings: Settings,
    private readonly format: SignalFormat,
    private readonly frames = Number.POSITIVE_INFINITY,
    private at: number,
  ) {}

  update(settings: Settings): void {
    this.settings = settings;
  }

  process(block: Block): void {
    const { at: start, frames } = this;
    this.at += framesOf(block);
    const { inSeconds, outSeconds, shape } = this.settings;
    const [rise, fall] = [inSeconds, outSeconds].map((s) => ({ frames: s * this.format.sampleRateHz, shape }));
    applyFades(block, start, frames, ...fittedFades(rise, fall, frames));
  }
}
