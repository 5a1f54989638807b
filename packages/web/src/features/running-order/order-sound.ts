import type { ProgrammeLedger, Recording, RecordingView } from '@tonos/contract';
import {
  type ChainStep,
  cutsInOrder,
  type Findings,
  type GainLine,
  givingWayLines,
  LineGain,
  mapOfCuts,
  NO_CHOICE,
  type OrderFile,
  type OrderPart,
  type PlacedPart,
  type ResolvedOrder,
  stretchOfPart,
  type TimeSpan,
  toResult,
  toSource,
} from '@tonos/core';
import type { LiveProgramme, LiveSteps } from '../../listening/engine/messages.ts';
import { pickUpTracks, roomToneOf, samplesOf, trackOf } from '../../listening/source-of.ts';
import { RATE, secondsOf } from './lay-out-order.ts';
import { soundingSpans } from './plate-path.ts';

/** What a programme will sound like, by what is known of its recordings: how groups give way, how loud it is, and what is listened to. */

/** A recording, from what its pictures show: where somebody speaks in it, and how loud it is. Its own time. */
export interface KnownSound {
  speech: readonly TimeSpan[];
  /** Over 400 ms, one after the other. */
  momentaryLufs: readonly (number | null)[];
  stepSeconds: number;
}

/** So finely is a recording looked at. */
const STEP_SECONDS = 0.25;
const MOST_COLUMNS = 4096;

/** The views that together show a recording. */
export function viewsOf(id: string, seconds: number): { id: string; from: number; to: number; columns: number }[] {
  const most = MOST_COLUMNS * STEP_SECONDS;
  return Array.from({ length: Math.ceil(seconds / most) }, (_, i) => {
    const columns = Math.min(MOST_COLUMNS, Math.ceil((seconds - i * most) / STEP_SECONDS));
    return { id, from: i * most, to: i * most + columns * STEP_SECONDS, columns };
  });
}

/** @param views of one recording, in order */
export const knownSound = (views: readonly RecordingView[]): KnownSound => ({
  speech: views.flatMap(({ speech }) => speech),
  momentaryLufs: views.flatMap(({ momentaryLufs }) => momentaryLufs),
  stepSeconds: STEP_SECONDS,
});

/** A part with the recording that it sounds from. */
export interface Sounding {
  placed: PlacedPart;
  recording: Recording;
  sound: KnownSound | undefined;
  /** By how much it is brought to its level. */
  levelDb: number;
}

/**
 * By how much parts are brought to their levels, by what was measured: of those whose sound is still the same.
 * @param of the order that was measured
 */
export function levelsFrom(
  order: OrderFile,
  of: OrderFile | null,
  ledger: ProgrammeLedger | null,
): Record<string, number> {
  const sameSound = (a: OrderPart, b: OrderPart) =>
    JSON.stringify([a.source, a.chain]) === JSON.stringify([b.source, b.chain]);
  return Object.fromEntries(
    order.parts.flatMap((part) => {
      const before = of?.parts.find(({ id }) => id === part.id);
      const told = ledger?.parts.find(({ id }) => id === part.id);
      if (!part.level || !before?.level || !told || !sameSound(part, before)) return [];
      return [[part.id, told.levelDb + part.level.integratedLufs - before.level.integratedLufs]];
    }),
  );
}

/** From a recording's moments to those of a part, and back. */
function timeOf(part: OrderPart, { cuts, measurement }: Recording) {
  const { durationSeconds } = measurement!;
  const map = mapOfCuts(cuts, durationSeconds);
  const fromSeconds = toResult(map, stretchOfPart(part, durationSeconds)[0]);
  return {
    map,
    fromSeconds,
    toPart: (seconds: number) => toResult(map, seconds) - fromSeconds,
    toRecording: (seconds: number) => toSource(map, fromSeconds + seconds),
  };
}

/** Where somebody speaks in a part, in the programme's time. */
export function speechIn({ placed, recording, sound }: Sounding): TimeSpan[] {
  const { toPart } = timeOf(placed.part, recording);
  const own = (sound?.speech ?? []).map(({ startSeconds, endSeconds }) => [toPart(startSeconds), toPart(endSeconds)]);
  return soundingSpans(placed).flatMap(({ from, to, ownFrom }) => {
    const shift = secondsOf(placed.start + from - ownFrom);
    const [first, last] = [secondsOf(placed.start + from), secondsOf(placed.start + to)];
    return own.flatMap(([start, end]) => {
      const [startSeconds, endSeconds] = [Math.max(first, start + shift), Math.min(last, end + shift)];
      return endSeconds > startSeconds ? [{ startSeconds, endSeconds }] : [];
    });
  });
}

/** How each group that gives way goes down. */
export function linesIn(order: OrderFile, sounding: readonly Sounding[]): Record<string, GainLine[]> {
  const speech = new Map<string, TimeSpan[]>();
  for (const one of sounding) {
    const { group } = one.placed.part;
    speech.set(group, [...(speech.get(group) ?? []), ...speechIn(one)]);
  }
  return givingWayLines(order.under, speech);
}

export const LOUDNESS_STEP_SECONDS = 0.5;
const SHORT_TERM_SECONDS = 3;
const QUIETEST_LUFS = -70;
const lufsToPower = (lufs: number) => 10 ** (lufs / 10);

/**
 * The short-term loudness of the whole before any chain, every half second: the powers of the parts' own loudness added, as sounds that have
 * nothing to do with each other add. Null where it is silent.
 */
export function loudnessOf(
  order: OrderFile,
  { frames }: ResolvedOrder,
  sounding: readonly Sounding[],
  lines: Readonly<Record<string, GainLine[]>>,
): (number | null)[] {
  const count = Math.ceil(secondsOf(frames) / LOUDNESS_STEP_SECONDS);
  const power = new Float64Array(count);
  for (const { id, gainDb } of order.groups) {
    const way = new Float32Array(count).fill(1);
    for (const line of lines[id] ?? []) new LineGain(line, 1 / LOUDNESS_STEP_SECONDS).applyTo(way, 0);
    for (const one of sounding) {
      if (one.placed.part.group !== id) continue;
      const gain = lufsToPower(gainDb + one.levelDb + one.placed.part.gainDb);
      addPower(power, one, (i, fade) => gain * (way[i] * fade) ** 2);
    }
  }
  const wide = SHORT_TERM_SECONDS / LOUDNESS_STEP_SECONDS;
  return Array.from(power, (_, i) => {
    const window = power.subarray(Math.max(0, i + 1 - wide), i + 1);
    const mean = window.reduce((sum, x) => sum + x, 0) / wide;
    const lufs = 10 * Math.log10(mean);
    return lufs > QUIETEST_LUFS ? lufs : null;
  });
}

function addPower(
  power: Float64Array,
  { placed, recording, sound }: Sounding,
  gainAt: (index: number, fade: number) => number,
): void {
  if (!sound) return;
  const { toRecording } = timeOf(placed.part, recording);
  const { start, end, ownFrames, fadeIn, fadeOut } = placed;
  for (const { from, to, ownFrom } of soundingSpans(placed)) {
    const [first, last] = [start + from, start + to].map((frame) =>
      Math.ceil(secondsOf(frame) / LOUDNESS_STEP_SECONDS),
    );
    for (let i = first; i < Math.min(last, power.length); i++) {
      const at = i * LOUDNESS_STEP_SECONDS * RATE;
      const own = toRecording(secondsOf((ownFrom + at - start - from) % ownFrames));
      const lufs = sound.momentaryLufs[Math.floor(own / sound.stepSeconds)] ?? null;
      if (lufs === null) continue;
      // a fade's middle is where it is heard to turn: straight is near enough for a line
      const risen = fadeIn.frames ? (at - start) / fadeIn.frames : 1;
      const left = fadeOut.frames ? (end - at) / fadeOut.frames : 1;
      const fade = Math.min(1, risen, left);
      power[i] += lufsToPower(lufs) * gainAt(i, fade);
    }
  }
}

/** What is heard of a programme, of all that could be. */
export interface Heard {
  /** Groups that are silent. */
  mute: readonly string[];
  /** The one group that is heard by itself. */
  only: string | null;
  /** Whether groups give way. */
  givesWay: boolean;
}

export const HEAR_ALL: Heard = { mute: [], only: null, givesWay: true };

export const isHeard = ({ mute, only }: Heard, group: string): boolean =>
  only === null ? !mute.includes(group) : only === group;

/** What the chains of an order found, where it was measured. Steps by their ids. */
export interface FoundIn {
  parts: Readonly<Record<string, Readonly<Record<string, Findings>>>>;
  groups: Readonly<Record<string, Readonly<Record<string, Findings>>>>;
  whole: Readonly<Record<string, Findings>>;
}

/** A chain's steps; undefined while it is not known, and where there is none. */
export type StepsOf = (chain: OrderFile['chain']) => readonly (ChainStep & { id: string })[] | undefined;

interface Live {
  order: OrderFile;
  sounding: readonly Sounding[];
  lines: Readonly<Record<string, GainLine[]>>;
  heard: Heard;
  found: FoundIn;
  stepsOf: StepsOf;
  /** Those that pick-ups may come from. */
  recordings: readonly Recording[];
}

/** The programme for the ear. */
export function liveProgramme({ order, sounding, lines, heard, found, stepsOf, recordings }: Live): LiveProgramme {
  const live = (
    chain: OrderFile['chain'],
    findings: Readonly<Record<string, Findings>> = {},
    marks: LiveSteps['known']['marks'] = [],
  ) => {
    const steps = stepsOf(chain)?.filter(({ on }) => on);
    const known = { marks, roomTone: NO_CHOICE };
    return steps?.length
      ? { live: { steps, findings, findingsFromSeconds: 0, known, removed: false } satisfies LiveSteps }
      : {};
  };
  const partOf = ({ placed, recording, levelDb }: Sounding) => {
    const { part, ...place } = placed;
    const { map, fromSeconds, toPart } = timeOf(part, recording);
    const { boxes, cuts, roomToneChoice, measurement } = recording;
    const cut = {
      cuts: cutsInOrder(cuts),
      roomTone: roomToneOf(measurement!, roomToneChoice),
      pickUps: pickUpTracks(cuts, recordings),
    };
    const marks = recording.marks.map(({ name, startSeconds, endSeconds }) => ({
      name,
      startSeconds: toPart(startSeconds),
      endSeconds: toPart(endSeconds),
    }));
    return {
      track: { ...trackOf(samplesOf(recording.id), measurement!, boxes), cut },
      map,
      fromSeconds,
      placed: { ...place, part: { gainDb: part.gainDb, pan: part.pan } },
      levelDb,
      ...live(part.chain, found.parts[part.id], marks),
    };
  };
  return {
    groups: order.groups
      .filter(({ id }) => isHeard(heard, id))
      .map(({ id, gainDb, chain }) => ({
        parts: sounding.filter(({ placed }) => placed.part.group === id).map(partOf),
        gainDb,
        lines: heard.givesWay ? (lines[id] ?? []) : [],
        ...live(chain, found.groups[id]),
      })),
    ...live(order.chain, found.whole),
  };
}
