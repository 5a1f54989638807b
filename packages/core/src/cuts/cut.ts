import * as z from 'zod';
import { plainFigure } from '../signal/figures.ts';
import { spliceMap } from '../time/splice.ts';
import type { TimeMap } from '../time/time-map.ts';

/** What a person did to a recording's time by hand. Times are the recording's own; nothing of it is destroyed. */

const time = z.number().min(0).max(1e6);
const common = {
  /** By which people change it; it does nothing to the sound. */
  id: z.string().min(1).max(64).optional(),
  /** One that is off does nothing, and is kept. */
  on: z.boolean().default(true),
};
const stretch = { ...common, startSeconds: time, endSeconds: time };

export const timeCut = z.discriminatedUnion('kind', [
  /** Gone. */
  z.strictObject({ kind: z.literal('take-out'), ...stretch }),
  /** The recording's own room tone in its place, as long. */
  z.strictObject({ kind: z.literal('room-tone'), ...stretch }),
  /** Room tone put in. */
  z.strictObject({
    kind: z.literal('pause'),
    ...common,
    atSeconds: time,
    lengthSeconds: z.number().gt(0).max(600),
  }),
  /** A stretch of another recording in its place. */
  z.strictObject({
    kind: z.literal('pick-up'),
    ...stretch,
    /** Of the other recording; in the command its path. */
    recordingId: z.string().min(1).max(4096),
    fromSeconds: time,
    toSeconds: time,
    matchLevel: z.boolean().default(true),
    matchTone: z.boolean().default(true),
    matchRoom: z.boolean().default(true),
  }),
]);

export type TimeCut = z.output<typeof timeCut>;
export type PickUp = Extract<TimeCut, { kind: 'pick-up' }>;

export const MOST_CUTS = 5000;

export const timeCuts = z.array(timeCut).max(MOST_CUTS);

/** `tonos.cuts/1`. */
export const cutsFile = z.strictObject({
  format: z.literal('tonos.cuts/1'),
  /** By file name, path as it is given, or id. */
  recordings: z.record(z.string(), timeCuts),
});

export type CutsFile = z.output<typeof cutsFile>;

/** What a file of cuts has for one recording. */
export const cutsFor = ({ recordings }: CutsFile, path: string): TimeCut[] =>
  recordings[path] ?? recordings[path.split(/[\\/]/).at(-1)!] ?? [];

/** The stretch of the recording that a cut stands for; of no length where something is put in. */
export const spanOf = (cut: TimeCut): { startSeconds: number; endSeconds: number } =>
  cut.kind === 'pause' ? { startSeconds: cut.atSeconds, endSeconds: cut.atSeconds } : cut;

/** How long what is heard instead is. */
export function resultSecondsOf(cut: TimeCut): number {
  switch (cut.kind) {
    case 'take-out':
      return 0;
    case 'room-tone':
      return cut.endSeconds - cut.startSeconds;
    case 'pause':
      return cut.lengthSeconds;
    case 'pick-up':
      return cut.toSeconds - cut.fromSeconds;
  }
}

/** How long a recording is with its cuts made. */
export const secondsAfter = (cuts: readonly TimeCut[], seconds: number): number =>
  cuts
    .filter(({ on }) => on)
    .reduce((sum, cut) => sum + resultSecondsOf(cut) - (spanOf(cut).endSeconds - spanOf(cut).startSeconds), seconds);

/** Where cuts bring the moments of a recording. */
export const mapOfCuts = (cuts: readonly TimeCut[], durationSeconds: number): TimeMap =>
  // a frame a second: nothing but the places counts
  spliceMap(
    cutsInOrder(cuts).map((cut) => {
      const { startSeconds, endSeconds } = spanOf(cut);
      return { startFrame: startSeconds, endFrame: endSeconds, filling: { frames: resultSecondsOf(cut) } };
    }),
    1,
    durationSeconds,
  );

/** Those that are on, in the order of their places. */
export const cutsInOrder = <Cut extends TimeCut>(cuts: readonly Cut[]): Cut[] =>
  cuts
    .filter(({ on }) => on)
    .sort((a, b) => spanOf(a).startSeconds - spanOf(b).startSeconds || spanOf(a).endSeconds - spanOf(b).endSeconds);

/** A cut as sentences call it. */
export function cutName(cut: TimeCut): string {
  const { startSeconds, endSeconds } = spanOf(cut);
  const at = (seconds: number) => `${plainFigure(Math.round(seconds * 1000) / 1000)} s`;
  const place = cut.kind === 'pause' ? `at ${at(startSeconds)}` : `${at(startSeconds)} to ${at(endSeconds)}`;
  return `${cut.kind}${cut.id ? ` "${cut.id}"` : ''} (${place})`;
}
