import { type Block, framesOf, sliceBlock } from '@tonos/core';
import { boxedFrames } from './boxed-frames.ts';
import { cutFrames } from './cut-frames.ts';
import { LiveFrames } from './live-frames.ts';
import type { LiveSteps, Traces, Track } from './messages.ts';
import { PacedFrames, pacedSteps } from './paced-frames.ts';
import { programmeSound } from './programme-sound.ts';
import type { Readable } from './readable.ts';
import type { SampleReader } from './sample-reader.ts';

const NO_TRACES: Traces = {};

/** A stretch of a track, through steps or as it is, in pieces as long as one asks for. */
export class Feed {
  private readonly live: LiveFrames | PacedFrames | undefined;
  private readonly blocks: AsyncIterator<Block>;
  private held: Block | undefined;

  /** @param place is told where a track that is cut goes on */
  constructor(
    reader: SampleReader,
    private readonly track: Track,
    from: number,
    to: number,
    place: (frame: number) => void,
  ) {
    const { live } = track;
    const paced = live && pacedSteps(live, track);
    const sound = uncutSound(reader, track);
    this.live = live && (paced ? new PacedFrames(sound, paced, from) : new LiveFrames(sound, live, from));
    const plain = () => {
      const { cut } = track;
      return cut?.cuts.length ? cutFrames(reader, { ...track, cut }, from, to, place) : sound.blocks(from, to);
    };
    const blocks = this.live ? this.live.blocks(to, true) : plain();
    this.blocks = blocks[Symbol.asyncIterator]();
  }

  /** Frames of the track that go into one that is heard. */
  get tempo(): number {
    return this.live instanceof PacedFrames ? this.live.tempo : 1;
  }

  takeTraces(): Traces {
    return this.live?.takeTraces() ?? NO_TRACES;
  }

  /** Goes on with other steps where only their settings differ. */
  update(live: LiveSteps | undefined): boolean {
    if (!live || !this.live) return false;
    // a pace that begins or ends is another sound
    const isPaced = pacedSteps(live, this.track) !== undefined;
    return isPaced === this.live instanceof PacedFrames && this.live.update(live);
  }

  /** The next frames, fewer where a block ends; undefined at the end. */
  async next(frames: number): Promise<Block | undefined> {
    const block = this.held ?? (await this.fetched());
    if (!block) return undefined;
    const count = Math.min(frames, framesOf(block));
    this.held = count < framesOf(block) ? sliceBlock(block, count, framesOf(block)) : undefined;
    return sliceBlock(block, 0, count);
  }

  private async fetched(): Promise<Block | undefined> {
    const { value, done } = await this.blocks.next();
    return done ? undefined : value;
  }
}

/** A track without its cuts. */
export const uncutSound = (reader: SampleReader, track: Track): Readable =>
  track.programme
    ? programmeSound(reader, track.programme, track)
    : { format: track, frames: track.frames, blocks: (from, to) => boxedFrames(reader, track, from, to) };

/** One signal turning into another: raised cosine, from `done` of `total` frames on. Of other layouts the new one fades in. */
export function faded(old: Block, fresh: Block, done: number, total: number): Block {
  return fresh.map((channel, c) =>
    channel.map((x, i) => {
      const share = 0.5 - 0.5 * Math.cos((Math.PI * Math.min(total, done + i + 1)) / total);
      const before = old.length === fresh.length ? (old[c][i] ?? 0) : 0;
      return before + share * (x - before);
    }),
  );
}
