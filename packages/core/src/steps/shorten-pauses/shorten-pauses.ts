import type * as z from 'zod';
import { type SpanOfSeconds, SpeechEdgeMeter } from '../../measure/activity/speech-edges.ts';
import { percent, seconds, settingsOf } from '../../settings/settings.ts';
import { plainFigure } from '../../signal/figures.ts';
import { Splicer } from '../../time/splice.ts';
import { defineStep, isWithin } from '../step.ts';
import { still } from '../still.ts';
import { cutsOf, type Pause } from './pause-cuts.ts';
import { pausesOfAll } from './pauses-of-all.ts';

const settings = settingsOf(() => ({
  longestSeconds: seconds('Longest pause', { min: 0.2, max: 10, default: 1.5, step: 0.05 }),
  keepPercent: percent('Of what is longer, keep', {
    min: 0,
    max: 100,
    default: 0,
    description: 'So that long pauses stay longer than short ones',
  }),
}));

interface Heard {
  [name: string]: unknown;
  frames: number;
  /** From the first word to the last; null where nobody speaks. */
  speech: SpanOfSeconds | null;
  pauses: Pause[];
}

/** Shorter gaps belong to the words. */
const LEAST_PAUSE_SECONDS = 0.2;

export const shortenPauses = defineStep<z.output<typeof settings>, Heard>({
  kind: 'shorten-pauses',
  title: 'Shorten pauses',
  group: 'time',
  summary: 'Takes what is too long out of the pauses between words, where only the room sounds.',
  words: ['gap', 'silence', 'tighten', 'pace', 'long', 'dead air', 'breath'],
  settings,
  describe: ({ longestSeconds, keepPercent }) =>
    `at most ${plainFigure(longestSeconds)} s${keepPercent > 0 ? ` and ${plainFigure(keepPercent)} % of the rest` : ''}`,
  traits: { longestPause: 'longestSeconds', longest: (_, length) => length },
  curves: {
    pauses: ({ longestSeconds, keepPercent }, { pauses = [] }) =>
      pauses.map((pause) => {
        const { startSeconds, endSeconds } = pause;
        const taken = cutsOf(pause, longestSeconds, keepPercent / 100);
        const beforeSeconds = endSeconds - startSeconds;
        const takenSeconds = taken.reduce((sum, one) => sum + one.endSeconds - one.startSeconds, 0);
        return { startSeconds, beforeSeconds, afterSeconds: beforeSeconds - takenSeconds };
      }),
  },
  findingsInTime: true,
  findingsVersion: 2,
  studied: () => null,
  study: (_, format) => {
    const meter = new SpeechEdgeMeter(format);
    return {
      hear: (block) => meter.hear(block),
      conclude: () => {
        const { frames, speech, gaps } = meter.conclude();
        return {
          frames,
          speech: speech.length
            ? { startSeconds: speech[0].startSeconds, endSeconds: speech.at(-1)!.endSeconds }
            : null,
          pauses: gaps.filter(({ startSeconds, endSeconds }) => endSeconds - startSeconds >= LEAST_PAUSE_SECONDS),
        };
      },
    };
  },
  together: (all) => {
    const pauses = pausesOfAll(all).filter(
      ({ startSeconds, endSeconds }) => endSeconds - startSeconds >= LEAST_PAUSE_SECONDS,
    );
    return all.map((own) => ({ ...own, pauses }));
  },
  leftOut: ({ longestSeconds, keepPercent }, { pauses = [] }) =>
    pauses.flatMap((pause) => cutsOf(pause, longestSeconds, keepPercent / 100)),
  retime: ({ longestSeconds, keepPercent }, format, { frames, pauses }, material) => {
    const toFrames = (s: number) => Math.round(s * format.sampleRateHz);
    const splices = pauses
      .filter((pause) => isWithin(material, pause))
      .flatMap((pause) => cutsOf(pause, longestSeconds, keepPercent / 100))
      .map(({ startSeconds, endSeconds }) => ({ startFrame: toFrames(startSeconds), endFrame: toFrames(endSeconds) }));
    return new Splicer(splices, format, frames);
  },
  start: still,
});
