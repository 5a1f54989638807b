import { applyFades, riseAt } from '../dsp/fades.ts';
import { silenceBadSamples } from '../signal/bad-samples.ts';
import { FrameReader } from '../signal/frame-reader.ts';
import { type Block, emptyBlock, framesOf, type SignalFormat, type Source } from '../signal/signal.ts';
import { crossfade } from '../time/join.ts';
import { RoomToneFill } from '../time/room-tone-fill.ts';
import { type Filling, type Splice, splicedSource, spliceMap } from '../time/splice.ts';
import { composeMaps, type TimeMap } from '../time/time-map.ts';
import { joinFramesOf, type Opening, type PlacedPart } from './resolve-order.ts';

/** The sound of a part as it lies in the programme: opened, repeated or cut, and faded. */

/** So long at most the room of an opened part is heard on either side of what plays there. */
const MOST_ROOM_SECONDS = 0.5;
const PIECE_FRAMES = 8192;

/** A part's own sound, at the programme's rate. */
export interface PartSound {
  source: Source;
  /** Stretches of its room near each place where it is opened. */
  rooms: readonly (readonly Block[])[];
}

/** A source of `end - start` frames. */
export function placedPart({ source, rooms }: PartSound, placed: PlacedPart): Source {
  const { format } = source;
  const { openings, ownFrames, fadeIn, fadeOut } = placed;
  const frames = placed.end - placed.start;
  const own = openings.length
    ? splicedSource(source, () => openSplices(openings, format, rooms), ownFrames)
    : frames > ownFrames
      ? repeated(source, ownFrames)
      : source;
  return {
    format,
    async *blocks() {
      const reader = new FrameReader(own);
      try {
        for (let at = 0; at < frames; ) {
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

/** Where the moments of a part's own sound lie in the programme. */
export function partMap({ openings, ownFrames, start }: PlacedPart, sampleRateHz: number): TimeMap {
  const inSeconds = (frames: number) => frames / sampleRateHz;
  const format = { sampleRateHz, channels: 1 };
  const opened = spliceMap(openSplices(openings, format, []), sampleRateHz, ownFrames);
  const whole = openings.reduce((sum, { frames }) => sum + frames, ownFrames);
  return composeMaps(opened, [
    [0, inSeconds(start)],
    [inSeconds(whole), inSeconds(start + whole)],
  ]);
}

const openSplices = (
  openings: readonly Opening[],
  format: SignalFormat,
  rooms: readonly (readonly Block[])[],
): Splice[] =>
  openings.map(({ at, frames }, i) => ({
    startFrame: at,
    endFrame: at,
    filling: openedFilling(frames, rooms[i] ?? [], format),
  }));

/** What an opened part does meanwhile: its room goes, and comes back before it goes on. */
function openedFilling(frames: number, room: readonly Block[], { channels, sampleRateHz }: SignalFormat): Filling {
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
      if (!room.length || (start >= side && at <= frames - side)) return emptyBlock(channels, count);
      fill ??= new RoomToneFill(room, channels, sampleRateHz);
      return fill.take(count).map((channel) => channel.map((x, i) => x * gainAt(start + i)));
    },
  };
}

/** A source again and again, each time joined to itself. @param frames the source's */
function repeated(source: Source, frames: number): Source {
  const { format } = source;
  const join = joinFramesOf(frames, format.sampleRateHz);
  return {
    format,
    async *blocks() {
      let end: Block | undefined;
      for (;;) {
        const reader = new FrameReader(source);
        try {
          const begin = await reader.read(join);
          yield end ? crossfade(end, begin) : begin;
          for (let left = frames - 2 * join; left > 0; ) {
            const block = await reader.read(Math.min(PIECE_FRAMES, left));
            if (!framesOf(block)) return;
            left -= framesOf(block);
            yield block;
          }
          end = await reader.read(join);
        } finally {
          await reader.close();
        }
      }
    },
  };
}
