import {
  type Block,
  emptyBlock,
  type Filling,
  filling,
  framesOf,
  cut as inBlocks,
  levelled,
  MemorySignal,
  matched,
  type PickUp,
  pickUpFilling,
  resultSecondsOf,
  type Splice,
  Splicer,
  SurroundingMeter,
  spanOf,
  type TimeCut,
  type TimeSpan,
  takeStretches,
  toSource,
  windowsAround,
} from '@tonos/core';
import { boxedFrames } from './boxed-frames.ts';
import type { CutTrack, Track } from './messages.ts';
import type { SampleReader } from './sample-reader.ts';

/** So much of what a cut stands for is read at either edge of it: its joins lie there. */
const EDGE_SECONDS = 0.06;
const QUIET_FRAMES = 65_536;
/** Room tone that is enough for one place. */
const ROOM_SECONDS = 1.5;
const MOST_ROOM_SECONDS = 1;
const AROUND_PICK_UP_SECONDS = 6;
const SAME_SECONDS = 0.001;

/**
 * A stretch of a track with its cuts made, as a render makes them. What is taken out is not even fetched.
 * @param place is told which frame of the track the next block begins with, wherever that is not where the last one ended
 */
export async function* cutFrames(
  reader: SampleReader,
  track: Track & { cut: CutTrack },
  from: number,
  to: number,
  place: (frame: number) => void,
): AsyncGenerator<Block> {
  const { sampleRateHz } = track;
  const frameOf = (seconds: number) => Math.round(seconds * sampleRateHz);
  const coming = track.cut.cuts.flatMap((cut): Coming[] => {
    const { startSeconds, endSeconds } = spanOf(cut);
    const [start, end] = [frameOf(startSeconds), frameOf(endSeconds)];
    const isThere = start === end ? start > from && start < to : end > from && start < to;
    return isThere
      ? [{ cut, start: Math.max(from, start), end: Math.min(to, end), filled: filled(cut, end - start, track) }]
      : [];
  });
  const splices = coming.map(
    ({ start, end, filled: own }): Splice => ({
      startFrame: start - from,
      endFrame: end - from,
      ...(own && { filling: own }),
    }),
  );
  const splicer = new Splicer(splices, track, to - from);
  let made = 0;
  let expected = from;
  const told = (block: Block): Block => {
    const at = from + toSource(splicer.map, made / sampleRateHz) * sampleRateHz;
    if (Math.abs(at - expected) > SAME_SECONDS * sampleRateHz) {
      place(Math.round(at));
      expected = at;
    }
    made += framesOf(block);
    expected += framesOf(block);
    return block.map((channel) => channel.slice());
  };
  let read = from;
  for await (const block of sounding(reader, track, from, to, coming)) {
    read += framesOf(block);
    for (const one of coming) if (one.start <= read) await one.filled?.prepare(reader);
    for (const out of splicer.process(block)) if (framesOf(out)) yield told(out);
  }
  for (const out of splicer.flush()) if (framesOf(out)) yield told(out);
}

interface Coming {
  cut: TimeCut;
  start: number;
  end: number;
  filled: Prepared | undefined;
}

/** What is heard instead, fetched when its place is near. */
interface Prepared extends Filling {
  prepare(reader: SampleReader): Promise<void>;
}

/** The track, silent inside of what is cut. */
async function* sounding(
  reader: SampleReader,
  track: Track,
  from: number,
  to: number,
  coming: readonly Coming[],
): AsyncGenerator<Block> {
  const edge = Math.round(EDGE_SECONDS * track.sampleRateHz);
  let at = from;
  for (const { start, end } of coming) {
    const [first, last] = [start + edge, end - edge];
    if (last <= first) continue;
    if (first > at) yield* boxedFrames(reader, track, at, first);
    for (at = Math.max(at, first); at < last; ) {
      const frames = Math.min(QUIET_FRAMES, last - at);
      yield emptyBlock(track.channels, frames);
      at += frames;
    }
  }
  if (at < to) yield* boxedFrames(reader, track, at, to);
}

function filled(cut: TimeCut, frames: number, track: Track & { cut: CutTrack }): Prepared | undefined {
  if (cut.kind === 'take-out') return undefined;
  const { sampleRateHz } = track;
  const long = cut.kind === 'room-tone' ? frames : Math.round(resultSecondsOf(cut) * sampleRateHz);
  let own: Filling | undefined;
  return {
    frames: long,
    prepare: async (reader) => {
      if (own) return;
      const room = await roomNear(reader, track, spanOf(cut).startSeconds);
      own = cut.kind === 'pick-up' ? await pickedUp(reader, track, cut, room) : filling(room, long, track);
    },
    begin: (lead) => own?.begin?.(lead),
    take: (count) => own?.take(count) ?? emptyBlock(track.channels, count),
  };
}

/** The room nearest to a place, at one level. */
export async function roomNear(
  reader: SampleReader,
  track: Track & { cut: CutTrack },
  seconds: number,
): Promise<Block[]> {
  const near = [...track.cut.roomTone].sort((a, b) => distance(a, seconds) - distance(b, seconds));
  const blocks: Block[] = [];
  for (let left = ROOM_SECONDS; left > 0 && near.length; ) {
    const { startSeconds, endSeconds } = near.shift()!;
    const length = Math.min(left, MOST_ROOM_SECONDS, endSeconds - startSeconds);
    blocks.push(await stretchOf(reader, track, startSeconds, startSeconds + length));
    left -= length;
  }
  return levelled(blocks, track);
}

const distance = ({ startSeconds, endSeconds }: TimeSpan, seconds: number) =>
  Math.max(0, startSeconds - seconds, seconds - endSeconds);

async function pickedUp(
  reader: SampleReader,
  track: Track & { cut: CutTrack },
  cut: PickUp,
  room: readonly Block[],
): Promise<Filling | undefined> {
  const other = track.cut.pickUps[cut.recordingId];
  if (!other) return undefined;
  const from = Math.max(0, cut.fromSeconds - AROUND_PICK_UP_SECONDS);
  const block = await stretchOf(reader, { ...other, boxes: [] }, from, cut.toSeconds + AROUND_PICK_UP_SECONDS);
  const source = new MemorySignal(other, [...inBlocks(block, QUIET_FRAMES)]);
  const rebased = { ...cut, fromSeconds: cut.fromSeconds - from, toSeconds: cut.toSeconds - from };
  const [taken] = await takeStretches([rebased], source, track);
  if (!cut.matchLevel && !cut.matchTone && !cut.matchRoom) return pickUpFilling(taken);
  const windows = windowsAround(cut, track.cut.cuts, track.sampleRateHz).map(
    ([first, last]) => [first, Math.min(last, track.frames)] as const,
  );
  const meter = new SurroundingMeter(windows, track);
  for (const [first, last] of windows) {
    let at = first;
    for await (const heard of boxedFrames(reader, { ...track, boxes: [] }, first, last)) {
      meter.hear(heard, at);
      at += framesOf(heard);
    }
  }
  return pickUpFilling(await matched(taken, cut, meter.conclude(room), track));
}

async function stretchOf(reader: SampleReader, track: Track, startSeconds: number, endSeconds: number): Promise<Block> {
  const from = Math.round(startSeconds * track.sampleRateHz);
  const to = Math.min(track.frames, Math.round(endSeconds * track.sampleRateHz));
  const whole = emptyBlock(track.channels, Math.max(0, to - from));
  let at = 0;
  for await (const block of boxedFrames(reader, { ...track, boxes: [] }, from, to)) {
    block.forEach((channel, c) => {
      whole[c].set(channel, at);
    });
    at += framesOf(block);
  }
  return whole;
}
