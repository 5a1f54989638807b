import {
  type Block,
  changeLayout,
  framesOf,
  groupTrack,
  type PartSound,
  partTrack,
  Resampler,
  resampledSource,
  type SignalFormat,
  type Source,
  summed,
  toSource,
} from '@tonos/core';
import { boxedFrames } from './boxed-frames.ts';
import { cutFrames, roomNear } from './cut-frames.ts';
import type { LiveGroup, LivePart, LiveProgramme, Track } from './messages.ts';
import { framesOfSource, type Readable, sourceFrom, throughSteps } from './readable.ts';
import type { SampleReader } from './sample-reader.ts';

/** What comes in so soon is fetched now. */
const SOON_SECONDS = 2;
const JOIN_SECONDS = 0.05;

/** A programme as its order has it now, by the mixer that renders use: from any of its moments on, only what sounds is fetched. */
export function programmeSound(reader: SampleReader, programme: LiveProgramme, track: Track): Readable {
  const { sampleRateHz, channels, frames } = track;
  const format = { sampleRateHz, channels };
  const sumOf = (group: LiveGroup): Readable => ({
    format,
    frames,
    blocks: (from, to) => {
      const tracks = group.parts
        .filter(({ placed }) => placed.end > from && placed.start < to)
        .map((part) => partTrack(part.placed, partSound(reader, part, sampleRateHz), part.levelDb, format, from));
      return framesOfSource(summed(tracks, format), to - from);
    },
  });
  const groups = programme.groups.map((group) => ({ ...group, sound: throughSteps(sumOf(group), group.live) }));
  const whole: Readable = {
    format,
    frames,
    async *blocks(from, to) {
      const tracks = groups.map(({ sound, gainDb, lines }) =>
        groupTrack(sourceFrom(sound, from), gainDb, lines, format, from),
      );
      const coming = new Coming(reader, programme, from, sampleRateHz);
      const soon = SOON_SECONDS * sampleRateHz;
      coming.fetchBefore(from + soon);
      let at = from;
      for await (const block of framesOfSource(summed(tracks, format), to - from)) {
        at += framesOf(block);
        coming.fetchBefore(at + soon);
        yield block;
      }
    },
  };
  return throughSteps(whole, programme.live);
}

/** A part's own sound: its stretch of the recording, with its cuts made, at the programme's rate and through its own chain. */
function partSound(reader: SampleReader, part: LivePart, sampleRateHz: number): PartSound {
  const sound = throughSteps(stretchSound(reader, part, sampleRateHz), part.live);
  const rooms = new Map<number, readonly Block[]>();
  const asked = new Map<number, Promise<void>>();
  const { openings } = part.placed;
  const fetchRoom = (opening: number): Promise<void> => {
    const laidOut = (block: Block) => changeLayout(block, part.track, sound.format.channels);
    const asking =
      asked.get(opening) ??
      roomOf(reader, part, openings[opening].at / sampleRateHz)
        .then((room) => void rooms.set(opening, room.map(laidOut)))
        .catch(() => {}); // what can't be fetched is told where it sounds
    asked.set(opening, asking);
    return asking;
  };
  return {
    format: sound.format,
    from: (frame) => ({
      format: sound.format,
      async *blocks() {
        let at = frame;
        for await (const block of sourceFrom(sound, frame).blocks()) {
          const end = at + framesOf(block);
          for (const [i, opening] of openings.entries()) {
            const isComing = opening.at >= at && opening.at < end + SOON_SECONDS * sampleRateHz;
            const asking = isComing ? fetchRoom(i) : undefined;
            // a join reaches a little further than the block
            if (opening.at < end + JOIN_SECONDS * sampleRateHz) await asking;
          }
          at = end;
          yield block;
        }
      },
    }),
    roomAt: (opening) => rooms.get(opening) ?? [],
  };
}

/** The room of a recording near a moment of a part. */
async function roomOf(reader: SampleReader, { track, map, fromSeconds }: LivePart, seconds: number): Promise<Block[]> {
  const cut = track.cut ?? { cuts: [], roomTone: [], pickUps: {} };
  return roomNear(reader, { ...track, cut }, toSource(map, fromSeconds + seconds));
}

function stretchSound(reader: SampleReader, part: LivePart, sampleRateHz: number): Readable {
  const { track, placed } = part;
  const format: SignalFormat = { sampleRateHz, channels: track.channels };
  return {
    format,
    frames: placed.ownFrames,
    blocks: (from, to) => {
      const own = recordingFrom(reader, part, from / sampleRateHz);
      const atRate =
        track.sampleRateHz === sampleRateHz
          ? own
          : resampledSource(own, format, () => new Resampler(track.sampleRateHz, sampleRateHz, track.channels));
      return framesOfSource(atRate, to - from);
    },
  };
}

/** @param seconds of the part's own time */
function recordingFrom(reader: SampleReader, { track, map, fromSeconds }: LivePart, seconds: number): Source {
  const frame = Math.round(toSource(map, fromSeconds + seconds) * track.sampleRateHz);
  const { cut } = track;
  return {
    format: track,
    blocks: () =>
      cut?.cuts.length
        ? cutFrames(reader, { ...track, cut }, frame, track.frames, () => {})
        : boxedFrames(reader, track, frame, track.frames),
  };
}

/** Parts whose first samples are fetched before they sound, all at once where several do. */
class Coming {
  private readonly parts: LivePart[];

  constructor(
    private readonly reader: SampleReader,
    { groups }: LiveProgramme,
    private readonly from: number,
    private readonly sampleRateHz: number,
  ) {
    this.parts = groups
      .flatMap(({ parts }) => parts)
      .filter(({ placed }) => placed.end > from)
      .sort((a, b) => a.placed.start - b.placed.start);
  }

  fetchBefore(frame: number): void {
    while (this.parts.length && this.parts[0].placed.start < frame) {
      const { track, map, fromSeconds, placed } = this.parts.shift()!;
      const own = ownFrameAt(placed, Math.max(this.from, placed.start)) / this.sampleRateHz;
      const first = Math.round(toSource(map, fromSeconds + own) * track.sampleRateHz);
      void this.reader.read(track, Math.min(first, track.frames - 1), 1).catch(() => {}); // told when it sounds
    }
  }
}

/** Which frame of a part's own sound lies at a frame of the programme. */
function ownFrameAt({ start, openings, ownFrames }: LivePart['placed'], frame: number): number {
  let own = frame - start;
  for (const { at, frames } of openings) if (own > at) own = Math.max(at, own - frames);
  return own % ownFrames;
}
