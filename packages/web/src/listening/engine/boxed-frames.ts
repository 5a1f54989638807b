import { type Block, BoxProcessor, boxTransformSize, emptyBlock, framesOf, sliceBlock } from '@tonos/core';
import type { Track } from './messages.ts';
import type { SampleReader } from './sample-reader.ts';

const PIECE_FRAMES = 2048;

/** A stretch of a track, piece by piece, its boxes turned down: the same samples wherever the stretch begins. */
export async function* boxedFrames(
  reader: SampleReader,
  track: Track,
  from: number,
  to: number,
): AsyncGenerator<Block> {
  const reach = boxTransformSize(track.sampleRateHz);
  const touched = track.boxes.some(
    ({ startSeconds, endSeconds }) =>
      endSeconds * track.sampleRateHz > from - reach && startSeconds * track.sampleRateHz < to + reach,
  );
  if (!touched) {
    yield* plainFrames(reader, track, from, to);
    return;
  }
  // transforms start at multiples of their hop; one size of run-in, and one of latency
  const hop = reach / 4;
  const start = Math.floor((from - reach) / hop) * hop;
  const boxes = new BoxProcessor(track.boxes, track, start);
  let toDrop = from - start + reach;
  let owed = to - from;
  for await (const piece of silenceAround(reader, track, start, to + reach)) {
    const block = piece.map((channel) => channel.slice());
    boxes.process(block);
    const dropped = Math.min(toDrop, framesOf(block));
    toDrop -= dropped;
    const kept = Math.min(owed, framesOf(block) - dropped);
    owed -= kept;
    if (kept) yield sliceBlock(block, dropped, dropped + kept);
  }
}

async function* plainFrames(reader: SampleReader, track: Track, from: number, to: number): AsyncGenerator<Block> {
  for (let at = from; at < to; ) {
    const block = await reader.read(track, at, Math.min(PIECE_FRAMES, to - at));
    if (!framesOf(block)) return;
    at += framesOf(block);
    yield block;
  }
}

/** Before a file's first sample and after its last there is silence. */
async function* silenceAround(reader: SampleReader, track: Track, from: number, to: number): AsyncGenerator<Block> {
  if (from < 0) yield emptyBlock(track.channels, -from);
  yield* plainFrames(reader, track, Math.max(0, from), Math.min(to, track.frames));
  if (to > track.frames) yield emptyBlock(track.channels, to - track.frames);
}
