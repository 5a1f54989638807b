import type * as z from 'zod';
import { SpeechEdgeMeter } from '../../measure/activity/speech-edges.ts';
import { choice, seconds, settingsOf } from '../../settings/settings.ts';
import { plainFigure } from '../../signal/figures.ts';
import { endSplices, filling } from '../../time/end-splices.ts';
import { roomToneStretches } from '../../time/room-tone-stretches.ts';
import { Splicer } from '../../time/splice.ts';
import { defineStep, isWithin } from '../step.ts';
import { still } from '../still.ts';
import { knownTone, type ToneSpan } from '../tone-spans.ts';

const settings = settingsOf(() => ({
  headSeconds: seconds('Before the first word', { min: 0, max: 10, default: 0.5, step: 0.05 }),
  tailSeconds: seconds('After the last word', { min: 0, max: 10, default: 1, step: 0.05 }),
  pad: choice('What is too short is filled with', ['room-tone', 'silence', 'none'], {
    default: 'room-tone',
    labels: { 'room-tone': 'Room tone', silence: 'Silence', none: 'Nothing: it stays short' },
  }),
}));

interface Heard {
  [name: string]: unknown;
  frames: number;
  /** Where speech begins and ends; null where nobody speaks. */
  speech: { startSeconds: number; endSeconds: number } | null;
  roomTone: ToneSpan[];
}

export const trimEnds = defineStep<z.output<typeof settings>, Heard>({
  kind: 'trim-ends',
  title: 'Trim ends',
  group: 'time',
  summary:
    'Brings what lies before the first word and after the last one to a length, with the recording\u2019s own room tone where it is too short.',
  words: ['head', 'tail', 'start', 'end', 'top and tail', 'silence', 'length', 'lead-in'],
  settings,
  describe: ({ headSeconds, tailSeconds, pad }) =>
    `${plainFigure(headSeconds)} s before, ${plainFigure(tailSeconds)} s after${pad === 'none' ? ', cut only' : ''}`,
  traits: { longest: ({ headSeconds, tailSeconds }, length) => headSeconds + length + tailSeconds },
  findingsInTime: true,
  studied: () => null,
  study: (_, format, known) => {
    const meter = new SpeechEdgeMeter(format);
    return {
      hear: (block) => meter.hear(block),
      conclude: () => {
        const { frames, speech, roomTone } = meter.conclude();
        const ends = speech.length
          ? { startSeconds: speech[0].startSeconds, endSeconds: speech.at(-1)!.endSeconds }
          : null;
        return {
          frames,
          speech: ends,
          roomTone: knownTone(roomTone, known),
          ...(ends ? {} : { note: 'Nobody speaks in it: its ends stay as they are.' }),
        };
      },
    };
  },
  together: (all) => {
    const spoken = all.flatMap(({ speech }) => (speech ? [speech] : []));
    const speech = spoken.length
      ? {
          startSeconds: Math.min(...spoken.map(({ startSeconds }) => startSeconds)),
          endSeconds: Math.max(...spoken.map(({ endSeconds }) => endSeconds)),
        }
      : null;
    return all.map((own) => ({ ...own, speech }));
  },
  leftOut: ({ headSeconds, tailSeconds }, { frames, speech }, sampleRateHz) => {
    if (!speech) return [];
    const [head, tail] = [speech.startSeconds - headSeconds, speech.endSeconds + tailSeconds];
    const ends = [
      { startSeconds: 0, endSeconds: head },
      { startSeconds: tail, endSeconds: frames / sampleRateHz },
    ];
    return ends.filter(({ startSeconds, endSeconds }) => endSeconds > startSeconds);
  },
  retime: async ({ headSeconds, tailSeconds, pad }, format, { frames, speech, roomTone }, material) => {
    if (!speech) return new Splicer([], format, frames);
    const { source, signal } = material;
    const end = frames / format.sampleRateHz;
    const toFrames = (s: number) => Math.round(s * format.sampleRateHz);
    const quiet = { head: toFrames(speech.startSeconds), tail: frames - toFrames(speech.endSeconds) };
    const most = pad === 'none' ? 0 : Number.POSITIVE_INFINITY;
    const change = {
      head: isWithin(material, { startSeconds: 0, endSeconds: speech.startSeconds })
        ? Math.min(most, toFrames(headSeconds) - quiet.head)
        : 0,
      tail: isWithin(material, { startSeconds: speech.endSeconds, endSeconds: end })
        ? Math.min(most, toFrames(tailSeconds) - quiet.tail)
        : 0,
    };
    const fills = pad === 'room-tone' && (change.head > 0 || change.tail > 0);
    const stretches = fills ? await roomToneStretches(source, roomTone, signal) : [];
    const splices = endSplices(change, quiet, frames, (added) => filling(stretches, added, format));
    return new Splicer(splices, format, frames);
  },
  start: still,
});
