import { median } from '../dsp/quantile.ts';
import { FineLevels } from '../measure/activity/fine-levels.ts';
import type { SpeechEdges } from '../measure/activity/speech-edges.ts';
import { overlaps, type RoomToneChoice, type TimeSpan } from '../measure/room-tone-choice.ts';
import { dbToGain, dbToPower, powerToDb } from '../signal/decibels.ts';
import type { Block, SignalFormat } from '../signal/signal.ts';

/**
 * Rooms change in the course of a recording: what stands for a stretch of it is the room's sound from near there. Places that lie close
 * together share it, so that a recording of ten hours with thousands of cuts needs no more memory than its neighbourhoods.
 */
const MOST_PLACES = 40;
const LEAST_GRID_SECONDS = 10;
const ENOUGH_SECONDS = 1.5;
const LEAST_STRETCH_SECONDS = 0.1;
const MOST_STRETCH_SECONDS = 1;
/** A stretch that is so much louder than the quieter half holds more than the room. */
const STRAY_DB = 3;

/** Where the room sounds by itself: what people said, or what was found and not ruled out; nothing of what is cut. */
export function roomStretches(
  { gaps, roomTone }: SpeechEdges,
  choice: RoomToneChoice | undefined,
  cuts: readonly TimeSpan[],
): TimeSpan[] {
  const never = [...(choice?.never ?? []), ...cuts.filter(({ startSeconds, endSeconds }) => endSeconds > startSeconds)];
  const found = choice?.use.length ? choice.use : [...gaps.flatMap(({ quiet }) => quiet), ...roomTone];
  return found
    .filter((span) => !never.some((banned) => overlaps(span, banned)))
    .filter(({ startSeconds, endSeconds }) => endSeconds - startSeconds >= LEAST_STRETCH_SECONDS)
    .flatMap(inPieces);
}

function inPieces({ startSeconds, endSeconds }: TimeSpan): TimeSpan[] {
  const count = Math.ceil((endSeconds - startSeconds) / MOST_STRETCH_SECONDS);
  const each = (endSeconds - startSeconds) / count;
  return Array.from({ length: count }, (_, i) => ({
    startSeconds: startSeconds + i * each,
    endSeconds: startSeconds + (i + 1) * each,
  }));
}

/** The neighbourhood of a moment, as the moment in its middle. */
export function placeOf(seconds: number, lengthSeconds: number): number {
  const grid = Math.max(LEAST_GRID_SECONDS, lengthSeconds / MOST_PLACES);
  return Math.round(seconds / grid) * grid;
}

/** The stretches nearest to a place that suffice for it. */
export function nearestStretches(stretches: readonly TimeSpan[], place: number): TimeSpan[] {
  const middle = ({ startSeconds, endSeconds }: TimeSpan) => (startSeconds + endSeconds) / 2;
  const near = [...stretches].sort((a, b) => Math.abs(middle(a) - place) - Math.abs(middle(b) - place));
  const chosen: TimeSpan[] = [];
  for (let seconds = 0; seconds < ENOUGH_SECONDS && chosen.length < near.length; ) {
    const next = near[chosen.length];
    seconds += next.endSeconds - next.startSeconds;
    chosen.push(next);
  }
  return chosen;
}

/** The level of a room in dBFS, over 80 Hz; undefined where there is no sound to tell it from. */
export function roomLevelDb(stretches: readonly Block[], format: SignalFormat): number | undefined {
  const powers = stretches.flatMap((block) => finePowers(block, format));
  return powers.length ? powerToDb(powers.reduce((sum, power) => sum + power, 0) / powers.length) : undefined;
}

function finePowers(block: Block, format: SignalFormat): number[] {
  const levels = new FineLevels(format);
  levels.hear(block);
  // the filter swings in first
  return Array.from({ length: levels.count }, (_, i) => dbToPower(levels.levelDb(i))).slice(2);
}

/** The same stretches at one level, that of the quieter half; strays are left out. */
export function levelled(stretches: readonly Block[], format: SignalFormat): Block[] {
  const known = stretches.flatMap((block) => {
    const db = roomLevelDb([block], format);
    return db === undefined ? [] : [{ block, db }];
  });
  const levels = known.map(({ db }) => db).sort((a, b) => a - b);
  const usual = median(levels.slice(0, Math.ceil(levels.length / 2)));
  if (usual === undefined) return [...stretches];
  return known
    .filter(({ db }) => db <= usual + STRAY_DB)
    .map(({ block, db }) => {
      const gain = dbToGain(usual - db);
      return block.map((channel) => channel.map((x) => gain * x));
    });
}
