import { type Block, BoxProcessor, boxTransformSize, emptyBlock, framesOf, InLine } from '@tonos/core';
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
  const line = new InLine(from - start + reach);
  line.goesIn(to - from);
  for await (const piece of silenceAround(reader, track, start, to + reach)) {
    const block = piece.map((channel) => channel.slice());
    boxes.process(block);
    const inLine = line.comesOut(block);
    if (framesOf(inLine)) yield inLine;
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
