import { type Block, copyBlock, emptyBlock, framesOf, type SignalFormat, type Source, sliceBlock } from '@tonos/core';
import { formatBehind, LiveFrames } from './live-frames.ts';
import type { LiveSteps } from './messages.ts';

/** A sound that can be read from any of its frames on. */
export interface Readable {
  format: SignalFormat;
  frames: number;
  blocks(from: number, to: number): AsyncIterable<Block>;
}

/** A sound behind steps that may be edited meanwhile; itself where there are none. */
export function throughSteps(sound: Readable, live: LiveSteps | undefined): Readable {
  if (!live?.steps.length) return sound;
  return {
    ...sound,
    format: formatBehind(sound.format, live),
    blocks: (from, to) => new LiveFrames(sound, live, from).blocks(to),
  };
}

/** A sound from one of its frames on, for whoever reads in order. */
export const sourceFrom = (sound: Readable, from: number): Source => ({
  format: sound.format,
  async *blocks() {
    if (from < sound.frames) yield* sound.blocks(from, sound.frames);
  },
});

/** So many frames of a source, which stay as they are; silence where it has ended. */
export async function* framesOfSource(source: Source, frames: number): AsyncGenerator<Block> {
  let left = frames;
  if (left <= 0) return;
  for await (const block of source.blocks()) {
    yield copyBlock(sliceBlock(block, 0, Math.min(left, framesOf(block))));
    left -= framesOf(block);
    if (left <= 0) return;
  }
  if (left > 0) yield emptyBlock(source.format.channels, left);
}
