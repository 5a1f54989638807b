import type * as z from 'zod';
import { number, onOff, percent, secondsOrNone, settingsOf } from '../../settings/settings.ts';
import { figure, plainFigure, signedFigure } from '../../signal/figures.ts';
import { framesOf } from '../../signal/signal.ts';
import { defineStep } from '../step.ts';
import { still } from '../still.ts';
import { Repacer } from './repacer.ts';
import { framesOfSpans, ScopedRepacer } from './scoped-repacer.ts';

const LEAST_TEMPO = 0.5;
const MOST_TEMPO = 2;

const settings = settingsOf(() => ({
  tempoPercent: percent('Tempo', { min: 50, max: 200, default: 100, step: 0.1 }),
  pitchSemitones: number('semitones', 'linear', 0.1)('Pitch', { min: -12, max: 12, default: 0 }),
  fitSeconds: secondsOrNone('Fit into', {
    min: 0.1,
    max: 36000,
    description: 'Goes before the tempo; empty: the tempo counts',
  }),
  keepFormants: onOff('Keep the voice\u2019s resonances', true),
}));
type Settings = z.output<typeof settings>;

interface Heard {
  [name: string]: unknown;
  frames: number;
}

/** How fast it goes, 1 as it is. */
const tempoOf = ({ fitSeconds, tempoPercent }: Settings, lengthSeconds: number): number =>
  Math.min(MOST_TEMPO, Math.max(LEAST_TEMPO, fitSeconds === null ? tempoPercent / 100 : lengthSeconds / fitSeconds));

const paceOf = ({ pitchSemitones, keepFormants }: Settings, tempo: number) => ({
  tempo,
  pitchRatio: 2 ** (pitchSemitones / 12),
  keepFormants,
});

export const pace = defineStep<Settings, Heard>({
  kind: 'pace',
  title: 'Pace',
  group: 'time',
  summary: 'Makes speech faster or slower at its own pitch, higher or lower at its own pace, or fits it into a length.',
  words: ['tempo', 'speed', 'slower', 'faster', 'pitch', 'length', 'fit', 'promo', '30 seconds'],
  settings,
  describe: ({ tempoPercent, pitchSemitones, fitSeconds }) =>
    [
      fitSeconds === null ? `${plainFigure(tempoPercent)} %` : `into ${plainFigure(fitSeconds)} s`,
      pitchSemitones !== 0 && `${signedFigure(pitchSemitones)} semitones`,
    ]
      .filter(Boolean)
      .join(', '),
  traits: { longest: (given, length) => length / tempoOf(given, length) },
  findingsInTime: true,
  studied: ({ fitSeconds }) => fitSeconds,
  study: ({ fitSeconds }, { sampleRateHz }) => {
    let frames = 0;
    return {
      hear: (block) => {
        frames += framesOf(block);
      },
      conclude: () => {
        const length = frames / sampleRateHz;
        const isOut = fitSeconds !== null && (length > MOST_TEMPO * fitSeconds || length < LEAST_TEMPO * fitSeconds);
        return {
          frames,
          ...(isOut && {
            note: `${figure(length)} s do not fit into ${plainFigure(fitSeconds)} s: the tempo goes from 50 to 200 %.`,
          }),
        };
      },
    };
  },
  evenly: (given, { frames }, format) => {
    const tempo = tempoOf(given, frames / format.sampleRateHz);
    if (tempo === 1 && given.pitchSemitones === 0) return undefined;
    return { tempo, start: (stretch) => new Repacer(paceOf(given, tempo), format, stretch) };
  },
  retime: (given, format, { frames }, { within }) => {
    const repace = (length: number) =>
      new Repacer(paceOf(given, tempoOf(given, length / format.sampleRateHz)), format, length);
    return within ? new ScopedRepacer(framesOfSpans(within, format, frames), repace, format, frames) : repace(frames);
  },
  start: still,
});
