import { applyFades, riseAt } from '../dsp/fades.ts';
import { silenceBadSamples } from '../signal/bad-samples.ts';
import { FrameReader } from '../signal/frame-reader.ts';
import { type Block, emptyBlock, framesOf, type SignalFormat, type Source, sliceBlock } from '../signal/signal.ts';
import { crossfade } from '../time/join.ts';
import { RoomToneFill } from '../time/room-tone-fill.ts';
import { type Filling, type Splice, splicedSource, spliceMap } from '../time/splice.ts';
import { composeMaps, type TimeMap } from '../time/time-map.ts';
import { joinFramesOf, type PlacedPart } from './resolve-order.ts';

/** The sound of a part as it lies in the programme: opened, repeated or cut, and faded. */

/** So long at most the room of an opened part is heard on either side of what plays there. */
const MOST_ROOM_SECONDS = 0.5;
/** No join reaches further. */
const LEAD_SECONDS = 0.05;
const PIECE_FRAMES = 8192;

/** A part's own sound, at the programme's rate. */
export interface PartSound {
  format: SignalFormat;
  /** Its sound from one of its frames on. It may be asked for again. */
  from(frame: number): Source;
  /** Stretches of its room near a place where it is opened, asked for when it is reached. */
  roomAt(opening: number): readonly Block[];
}

/** A part whose sound is all there. @param rooms near each place where it is opened */
export const soundOf = (source: Source, rooms: readonly (readonly Block[])[] = []): PartSound => ({
  format: source.format,
  from: (frame) => skipped(source, frame),
  roomAt: (opening) => rooms[opening] ?? [],
});

/** A source without its first frames. */
function skipped(source: Source, frames: number): Source {
  if (!frames) return source;
  return {
    format: source.format,
    async *blocks(options) {
      let left = frames;
      for await (const block of source.blocks(options)) {
        const here = Math.min(left, framesOf(block));
        left -= here;
        if (here < framesOf(block)) yield sliceBlock(block, here, framesOf(block));
      }
    },
  };
}

/** A source of `end - start - from` frames. @param from the frame of the part as it lies there, with which it begins */
export function placedPart(sound: PartSound, placed: Omit<PlacedPart, 'part'>, from = 0): Source {
  const { format } = sound;
  const { openings, ownFrames, fadeIn, fadeOut } = placed;
  const frames = placed.end - placed.start;
  const own = openings.length
    ? openedPart(sound, placed, from)
    : frames > ownFrames
      ? repeated(sound, ownFrames, from)
      : sound.from(from);
  return {
    format,
    async *blocks() {
      const reader = new FrameReader(own);
      try {
        for (let at = from; at < frames; ) {
          const block = await reader.read(Math.min(PIECE_FRAMES, frames - at));
          if (!framesOf(block)) return;
          silenceBadSamples(block);
          applyFades(block, at, frames, fadeIn, fadeOut);
          at += framesOf(block);
          yield block;
        }
      } finally {
        await reader.close();
      }
    },
  };
}

/** A part that goes on behind each place where another one plays in it. */
function openedPart(
  sound: PartSound,
  { openings, ownFrames }: Pick<PlacedPart, 'openings' | 'ownFrames'>,
  from: number,
): Source {
  // it is entered before what is begun: joins are made of both their sides
  const lead = Math.round(LEAD_SECONDS * sound.format.sampleRateHz);
  let entered = from - lead;
  let before = openings.reduce((sum, { frames }) => sum + frames, 0);
  let first = openings.length;
  for (let i = openings.length - 1; i >= 0; i--) {
    const { at, frames } = openings[i];
    const end = at + before;
    if (entered >= end + lead) break;
    before -= frames;
    first = i;
    entered = Math.min(entered, at + before - lead);
  }
  entered = Math.max(0, entered);
  const own = entered - before;
  const splices = () =>
    openings.slice(first).map(
      ({ at, frames }, i): Splice => ({
        startFrame: at - own,
        endFrame: at - own,
        filling: openedFilling(frames, () => sound.roomAt(first + i), sound.format),
      }),
    );
  return skipped(splicedSource(sound.from(own), splices, ownFrames - own), from - entered);
}

/** Where the moments of a part's own sound lie in the programme. */
export function partMap({ openings, ownFrames, start }: PlacedPart, sampleRateHz: number): TimeMap {
  const inSeconds = (frames: number) => frames / sampleRateHz;
  const splices = openings.map(({ at, frames }) => ({ startFrame: at, endFrame: at, filling: { frames } }));
  const opened = spliceMap(splices, sampleRateHz, ownFrames);
  const whole = openings.reduce((sum, { frames }) => sum + frames, ownFrames);
  return composeMaps(opened, [
    [0, inSeconds(start)],
    [inSeconds(whole), inSeconds(start + whole)],
  ]);
}

/** What an opened part does meanwhile: its room goes, and comes back before it goes on. */
function openedFilling(
  frames: number,
  roomOf: () => readonly Block[],
  { channels, sampleRateHz }: SignalFormat,
): Filling {
  const side = Math.min(Math.round(MOST_ROOM_SECONDS * sampleRateHz), frames >> 1);
  const gainAt = (frame: number) => riseAt('s-curve', Math.max(side - frame, frame - (frames - side)) / side);
  let fill: RoomToneFill | undefined;
  let at = 0;
  return {
    frames,
    begin: (lead) => {
      at = -lead;
    },
    take: (count) => {
      const start = at;
      at += count;
      if (start >= side && at <= frames - side) return emptyBlock(channels, count);
      const room = roomOf();
      if (!room.length) return emptyBlock(channels, count);
      fill ??= new RoomToneFill(room, channels, sampleRateHz);
      return fill.take(count).map((channel) => channel.map((x, i) => x * gainAt(start + i)));
    },
  };
}

/** A sound again and again, each time joined to itself. @param frames the sound's */
function repeated(sound: PartSound, frames: number, from: number): Source {
  const { format } = sound;
  const join = joinFramesOf(frames, format.sampleRateHz);
  const round = frames - join;
  return {
    format,
    async *blocks() {
      let skip = from % round;
      // the first time it begins by itself; a join in which it is entered needs the end before
      let end: Block | undefined = from >= round && skip < join ? await framesFrom(sound, round, join) : undefined;
      for (;;) {
        const reader = new FrameReader(sound.from(end ? 0 : skip));
        try {
          if (end) {
            const joined = crossfade(end, await reader.read(join));
            yield sliceBlock(joined, skip, join);
            skip = join;
          }
          for (let left = round - skip; left > 0; ) {
            const block = await reader.read(Math.min(PIECE_FRAMES, left));
            if (!framesOf(block)) return;
            left -= framesOf(block);
            yield block;
          }
          end = await reader.read(join);
          skip = 0;
        } finally {
          await reader.close();
        }
      }
    },
  };
}

async function framesFrom(sound: PartSound, from: number, frames: number): Promise<Block> {
  const reader = new FrameReader(sound.from(from));
  try {
    return (await reader.read(frames)).map((channel) => channel.slice());
  } finally {
    await reader.close();
  }
}
