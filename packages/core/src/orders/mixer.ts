import { changeLayout } from '../signal/change-layout.ts';
import { dbToGain } from '../signal/decibels.ts';
import { FrameReader } from '../signal/frame-reader.ts';
import { type Block, emptyBlock, framesOf, type SignalFormat, type Source } from '../signal/signal.ts';
import { type GainLine, LineGain } from './giving-way.ts';
import type { OrderPart } from './order-file.ts';
import { type PartSound, placedPart } from './part-source.ts';
import type { PlacedPart } from './resolve-order.ts';

/** Adds what begins somewhere in one time. It streams: of each track that sounds one block lies in memory. */

/** Something that begins somewhere in a sum. */
export interface Track {
  source: Source;
  /** Frame of the sum. */
  start: number;
  /** For each channel of the sum. */
  gains: readonly number[];
  /** Of the sum's time. */
  lines: readonly GainLine[];
}

/** A part as far as it is heard. */
export type SoundingPart = Omit<PlacedPart, 'part'> & { part: Pick<OrderPart, 'gainDb' | 'pan'> };

/** A part in its group's sum. @param levelDb that brings it to its level; @param from the frame of the programme at which the sum begins */
export function partTrack(
  placed: SoundingPart,
  sound: PartSound,
  levelDb: number,
  format: SignalFormat,
  from = 0,
): Track {
  const gain = dbToGain(placed.part.gainDb + levelDb);
  return {
    source: placedPart(sound, placed, Math.max(0, from - placed.start)),
    start: Math.max(0, placed.start - from),
    gains: sidesOf(placed.part, sound.format, format).map((side) => gain * side),
    lines: [],
  };
}

/** A group in the programme. @param lines in the programme's time; @param format the programme's; @param from its frame at which the source begins */
export function groupTrack(
  source: Source,
  gainDb: number,
  lines: readonly GainLine[],
  format: SignalFormat,
  from = 0,
): Track {
  const { channels, sampleRateHz } = format;
  const shifted = (line: GainLine): GainLine => line.map(([seconds, db]) => [seconds - from / sampleRateHz, db]);
  return {
    source,
    start: 0,
    gains: Array.from({ length: channels }, () => dbToGain(gainDb)),
    lines: from ? lines.map(shifted) : lines,
  };
}

/** One channel between two: left cos, right sin of (pan + 1) x 45 degrees, so that it is as loud anywhere. */
function sidesOf({ pan }: SoundingPart['part'], { channels }: SignalFormat, into: SignalFormat): number[] {
  if (channels !== 1 || into.channels !== 2) return Array.from({ length: into.channels }, () => 1);
  const angle = ((pan + 1) * Math.PI) / 4;
  return [Math.cos(angle), Math.sin(angle)];
}

const BLOCK_FRAMES = 8192;

/** A sum that can be read again. What comes to it in another layout is laid out. */
export function summed(tracks: readonly Track[], format: SignalFormat): Source {
  return {
    format,
    async *blocks({ signal } = {}) {
      const coming = [...tracks].sort((a, b) => a.start - b.start).map((track) => new RunningTrack(track, format));
      const sounding = new Set<RunningTrack>();
      // lent until the next one is asked for
      const block = emptyBlock(format.channels, BLOCK_FRAMES);
      try {
        for (let at = 0; coming.length || sounding.size; ) {
          signal?.throwIfAborted();
          for (const channel of block) channel.fill(0);
          while (coming.length && coming[0].start < at + BLOCK_FRAMES) sounding.add(coming.shift()!);
          let end = coming.length ? BLOCK_FRAMES : 0;
          for (const track of sounding) {
            const to = await track.addTo(block, at);
            if (to < BLOCK_FRAMES) sounding.delete(track);
            end = Math.max(end, to);
          }
          at += BLOCK_FRAMES;
          if (end > 0) yield end === BLOCK_FRAMES ? block : block.map((channel) => channel.subarray(0, end));
        }
      } finally {
        for (const track of sounding) await track.close();
      }
    },
  };
}

/** A track that is being added to a sum, in order. */
class RunningTrack {
  readonly start: number;
  private readonly reader: FrameReader;
  private readonly lines: readonly LineGain[];

  constructor(
    private readonly track: Track,
    private readonly into: SignalFormat,
  ) {
    this.start = track.start;
    this.reader = new FrameReader(track.source);
    this.lines = track.lines.map((line) => new LineGain(line, into.sampleRateHz));
  }

  /** Adds what of it lies in a block that begins at a frame of the sum. @returns to which frame of the block it sounds: less than all at its end */
  async addTo(block: Block, at: number): Promise<number> {
    const from = Math.max(0, this.start - at);
    const heard = await this.reader.read(framesOf(block) - from);
    const frames = framesOf(heard);
    const laidOut = changeLayout(heard, this.track.source.format, this.into.channels);
    const moving = this.lines.length ? new Float32Array(frames).fill(1) : undefined;
    for (const line of this.lines) line.applyTo(moving!, at + from);
    laidOut.forEach((channel, c) => {
      const into = block[c];
      const gain = this.track.gains[c];
      if (moving) for (let i = 0; i < frames; i++) into[from + i] += gain * moving[i] * channel[i];
      else for (let i = 0; i < frames; i++) into[from + i] += gain * channel[i];
    });
    return frames ? from + frames : 0;
  }

  close(): Promise<void> {
    return this.reader.close();
  }
}
