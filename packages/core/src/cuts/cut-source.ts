import { type SpeechEdges, speechEdgesOf } from '../measure/activity/speech-edges.ts';
import { type Block, type CancelSignal, framesOf, type SignalFormat, type Source } from '../signal/signal.ts';
import type { KnownOfRecording } from '../steps/step.ts';
import { filling } from '../time/end-splices.ts';
import { readStretches } from '../time/room-tone-stretches.ts';
import { type Splice, splicedSource, spliceMap } from '../time/splice.ts';
import { identityMap, type TimeMap } from '../time/time-map.ts';
import { checkCuts } from './check-cuts.ts';
import { cutsInOrder, type PickUp, spanOf, type TimeCut } from './cut.ts';
import {
  matched,
  pickUpFilling,
  type Surrounding,
  SurroundingMeter,
  type Taken,
  takeStretches,
  windowsAround,
} from './pick-up.ts';
import { levelled, nearestStretches, placeOf, roomStretches } from './room-near.ts';

/** A pick-up's recording, open. */
export interface OpenedPickUp {
  source: Source;
  close(): Promise<void>;
}

export interface CutSurroundings {
  /** How messages call the recording. */
  name: string;
  /** In the recording's time. */
  known?: KnownOfRecording;
  openPickUp(recordingId: string): Promise<OpenedPickUp>;
  signal?: CancelSignal;
}

/** A recording with its cuts made. */
export interface CutSource {
  source: Source;
  map: TimeMap;
}

/**
 * Makes a recording's cuts while it is read. It is read twice before: where its room sounds, and what pick-ups are brought to, is
 * heard first; what stands for its stretches is all that lies in memory.
 * @throws SignalError where cuts overlap, lie outside or take everything out
 */
export async function cutSource(
  source: Source,
  cuts: readonly TimeCut[],
  surroundings: CutSurroundings,
): Promise<CutSource> {
  const { signal, name } = surroundings;
  const filled = cuts.some(({ on, kind }) => on && kind !== 'take-out');
  const heard = filled ? await speechEdgesOf(source, signal) : await countWhole(source, signal);
  const { sampleRateHz } = source.format;
  const seconds = heard.frames / sampleRateHz;
  checkCuts(cuts, seconds, name);
  const ordered = cutsInOrder(cuts);
  if (!ordered.length) return { source, map: identityMap(seconds) };
  const rooms = await Rooms.near(source, ordered, heard, surroundings);
  const pickUps = await takePickUps(ordered, rooms, source.format, surroundings);
  const splices = () => splicesOf(ordered, source.format, heard.frames, rooms, pickUps);
  return {
    source: splicedSource(source, splices, heard.frames),
    map: spliceMap(splices(), sampleRateHz, heard.frames),
  };
}

/** Where each cut's splice lies and what is heard instead. */
function splicesOf(
  ordered: readonly TimeCut[],
  format: SignalFormat,
  frames: number,
  rooms: Rooms,
  pickUps: ReadonlyMap<TimeCut, Taken>,
): Splice[] {
  const toFrames = (s: number) => Math.min(frames, Math.round(s * format.sampleRateHz));
  return ordered.map((cut) => {
    const { startSeconds, endSeconds } = spanOf(cut);
    const [startFrame, endFrame] = [toFrames(startSeconds), toFrames(endSeconds)];
    const taken = pickUps.get(cut);
    if (taken) return { startFrame, endFrame, filling: pickUpFilling(taken) };
    if (cut.kind === 'take-out') return { startFrame, endFrame };
    const long = cut.kind === 'pause' ? Math.round(cut.lengthSeconds * format.sampleRateHz) : endFrame - startFrame;
    return { startFrame, endFrame, filling: filling(rooms.at(startSeconds, endSeconds), long, format) };
  });
}

/** How long a source is: its file may not say, or not say it right. */
async function countWhole(source: Source, signal?: CancelSignal): Promise<SpeechEdges> {
  let frames = 0;
  for await (const block of source.blocks({ signal })) {
    signal?.throwIfAborted();
    frames += framesOf(block);
  }
  return { frames, speech: [], gaps: [], breaths: [], roomTone: [] };
}

/** The room of each neighbourhood in which something stands for the recording, and what lies around its pick-ups. */
class Rooms {
  private constructor(
    private readonly seconds: number,
    private readonly byPlace: ReadonlyMap<number, Block[]>,
    private readonly around: ReadonlyMap<TimeCut, SurroundingMeter>,
  ) {}

  static async near(
    source: Source,
    ordered: readonly TimeCut[],
    heard: SpeechEdges,
    { known, signal }: CutSurroundings,
  ): Promise<Rooms> {
    const { format } = source;
    const seconds = heard.frames / format.sampleRateHz;
    const filled = ordered.filter(({ kind }) => kind !== 'take-out');
    const there = roomStretches(heard, known?.roomTone, ordered.map(spanOf));
    const places = [...new Set(filled.map((cut) => placeOf(middleOf(cut), seconds)))];
    const wanted = places.map((place) => nearestStretches(there, place));
    const around = new Map(
      ordered
        .filter(({ kind }) => kind === 'pick-up')
        .map((cut) => [cut, new SurroundingMeter(windowsAround(cut, ordered, format.sampleRateHz), format)] as const),
    );
    const hears = around.size > 0;
    const read = filled.length
      ? await readStretches(source, wanted.flat(), {
          signal,
          ...(hears && {
            heard: (block: Block, start: number) => {
              for (const meter of around.values()) meter.hear(block, start);
            },
          }),
        })
      : [];
    const byPlace = new Map<number, Block[]>();
    let next = 0;
    places.forEach((place, i) => {
      byPlace.set(place, levelled(read.slice(next, next + wanted[i].length), format));
      next += wanted[i].length;
    });
    return new Rooms(seconds, byPlace, around);
  }

  at(startSeconds: number, endSeconds: number): Block[] {
    return this.byPlace.get(placeOf((startSeconds + endSeconds) / 2, this.seconds)) ?? [];
  }

  surrounding(cut: TimeCut): Surrounding {
    const { startSeconds, endSeconds } = spanOf(cut);
    return this.around.get(cut)!.conclude(this.at(startSeconds, endSeconds));
  }
}

const middleOf = (cut: TimeCut): number => {
  const { startSeconds, endSeconds } = spanOf(cut);
  return (startSeconds + endSeconds) / 2;
};

async function takePickUps(
  ordered: readonly TimeCut[],
  rooms: Rooms,
  format: SignalFormat,
  { openPickUp, signal }: CutSurroundings,
): Promise<Map<TimeCut, Taken>> {
  const made = new Map<TimeCut, Taken>();
  const pickUps = ordered.filter((cut): cut is PickUp => cut.kind === 'pick-up');
  for (const recordingId of new Set(pickUps.map((cut) => cut.recordingId))) {
    const own = pickUps.filter((cut) => cut.recordingId === recordingId);
    const { source, close } = await openPickUp(recordingId);
    try {
      const taken = await takeStretches(own, source, format, signal);
      for (const [i, cut] of own.entries()) made.set(cut, await matched(taken[i], cut, rooms.surrounding(cut), format));
    } finally {
      await close();
    }
  }
  return made;
}
