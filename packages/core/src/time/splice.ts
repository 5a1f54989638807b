import { type Block, copyBlock, emptyBlock, framesOf, type Source, sliceBlock } from '../signal/signal.ts';
import { crossfade, edge, fittingShift } from './join.ts';
import { type Knot, simplified, type TimeMap } from './time-map.ts';

/** What takes the place of a stretch. */
export interface Filling {
  /** How long it is in the result. */
  frames: number;
  /** Is told how many frames before its own first one are asked for first, for the join. */
  begin?(lead: number): void;
  /** Its next frames; a few more are asked for, for the joins. */
  take(frames: number): Block;
}

/** A stretch of the source, of no length where something is put in, and what is heard instead: nothing, or a filling. */
export interface Splice {
  startFrame: number;
  endFrame: number;
  filling?: Filling;
  /** No join takes more of the source than this on either side: speech that begins at once is not faded in. */
  mostJoinFrames?: number;
}

const JOIN_SECONDS = 0.02;
const FIT_SECONDS = 0.01;
/** What begins or ends out of nothing fades over so much. */
const EDGE_SECONDS = 0.005;
const PIECE_FRAMES = 4096;

/** A splice with the windows of the source that its joins need: what sounds before goes out in one, what comes after comes in in the other. */
interface Planned extends Splice {
  out: readonly [from: number, to: number];
  in: readonly [from: number, to: number];
  /** A join by itself is as long as the windows without this on each side: it goes where both sides fit best. */
  slack: number;
}

/**
 * Applies splices to a signal that streams through, with joins of equal power that lie where both sides fit best. Lengths are to the frame.
 * @param splices in order, not overlapping, inside of the signal
 * @param frames the signal's length
 */
export class Splicer {
  readonly map: TimeMap;
  /** Those that are still to come: one that is done with holds nothing any more. */
  private readonly coming: Planned[];
  private at = 0;
  private outgoing: Block;
  private incoming: Block;

  constructor(
    splices: readonly Splice[],
    private readonly format: { sampleRateHz: number; channels: number },
    frames: number,
  ) {
    this.coming = plan(splices, format.sampleRateHz, frames);
    this.map = spliceMap(splices, format.sampleRateHz, frames);
    this.outgoing = emptyBlock(format.channels, 0);
    this.incoming = this.outgoing;
    this.begin();
  }

  /** What comes of the next block; it is only lent. */
  *process(block: Block): Generator<Block> {
    const start = this.at;
    const end = start + framesOf(block);
    while (this.at < end) {
      const from = this.at;
      const [splice] = this.coming;
      const copied = Math.min(end, splice?.out[0] ?? end);
      if (from < copied) {
        this.at = copied;
        yield sliceBlock(block, from - start, copied - start);
      } else {
        this.at = Math.min(end, splice.in[1]);
        this.keep(splice, block, start, from, this.at);
      }
      yield* this.due();
    }
  }

  /** What is put in behind the last frame. */
  flush(): Generator<Block> {
    return this.due();
  }

  /** All joins whose windows are complete. */
  private *due(): Generator<Block> {
    for (;;) {
      const [splice] = this.coming;
      if (!splice || this.at < splice.in[1]) return;
      yield* this.joined(splice);
      this.coming.shift();
      this.begin();
    }
  }

  private begin(): void {
    const [splice] = this.coming;
    if (!splice) return;
    this.outgoing = emptyBlock(this.format.channels, splice.out[1] - splice.out[0]);
    this.incoming = emptyBlock(this.format.channels, splice.in[1] - splice.in[0]);
  }

  /** Of the frames from `from` to `to` what lies in the windows. */
  private keep(splice: Planned, block: Block, start: number, from: number, to: number): void {
    for (const [window, into] of [
      [splice.out, this.outgoing],
      [splice.in, this.incoming],
    ] as const) {
      const [first, last] = [Math.max(from, window[0]), Math.min(to, window[1])];
      if (first < last)
        block.forEach((channel, c) => {
          into[c].set(channel.subarray(first - start, last - start), first - window[0]);
        });
    }
  }

  /** What stands for the source from the first window's begin to the last one's end. */
  private *joined({ startFrame, endFrame, filling, out, in: into, slack }: Planned): Generator<Block> {
    const { outgoing, incoming } = this;
    const [outFrames, inFrames] = [framesOf(outgoing), framesOf(incoming)];
    if (filling) {
      filling.begin?.(startFrame - out[0]);
      if (outFrames) yield crossfade(outgoing, filling.take(outFrames));
      let left = filling.frames - (out[1] - startFrame) - (endFrame - into[0]);
      while (left > 0) {
        const piece = filling.take(Math.min(PIECE_FRAMES, left));
        left -= framesOf(piece);
        yield piece;
      }
      if (inFrames) yield crossfade(filling.take(inFrames), incoming);
    } else if (outFrames && inFrames) {
      const frames = outFrames - 2 * slack;
      const by = slack && fittingShift(outgoing, incoming, frames, slack, this.format.sampleRateHz);
      yield sliceBlock(outgoing, 0, by);
      yield crossfade(sliceBlock(outgoing, by, by + frames), sliceBlock(incoming, by, by + frames));
      yield sliceBlock(incoming, by + frames, inFrames);
    } else if (outFrames) yield edge(outgoing, 'out');
    else if (inFrames) yield edge(incoming, 'in');
  }
}

function plan(splices: readonly Splice[], sampleRateHz: number, frames: number): Planned[] {
  const [join, fit, edgeFrames] = [JOIN_SECONDS / 2, FIT_SECONDS, EDGE_SECONDS].map((s) =>
    Math.round(s * sampleRateHz),
  );
  return splices.map((splice, i): Planned => {
    const { startFrame: a, endFrame: b, filling, mostJoinFrames = frames } = splice;
    const [before, after] = [splices[i - 1], splices[i + 1]];
    // neighbours share what lies between them
    const roomBefore = Math.min(mostJoinFrames, before ? Math.floor((a - before.endFrame) / 2) : a);
    const roomAfter = Math.min(mostJoinFrames, after ? Math.floor((after.startFrame - b) / 2) : frames - b);
    const none = (at: number) => [at, at] as const;
    if (filling) {
      const most = Math.min(2 * join, filling.frames);
      // at an end of the signal the filling lies over its first or last frames
      if (a === 0) return { ...splice, out: none(0), in: [b, b + Math.min(most, roomAfter)], slack: 0 };
      if (b === frames) return { ...splice, out: [a - Math.min(most, roomBefore), a], in: none(b), slack: 0 };
      const half = Math.min(most >> 1, roomBefore, roomAfter);
      return { ...splice, out: [a - half, a + half], in: [b - half, b + half], slack: 0 };
    }
    if (a === 0) return { ...splice, out: none(0), in: [b, b + Math.min(edgeFrames, roomAfter)], slack: 0 };
    if (b === frames) return { ...splice, out: [a - Math.min(edgeFrames, roomBefore), a], in: none(b), slack: 0 };
    const half = Math.min(join, roomBefore, roomAfter);
    const slack = Math.min(fit, roomBefore - half, roomAfter - half);
    const wide = half + slack;
    return { ...splice, out: [a - wide, a + wide], in: [b - wide, b + wide], slack };
  });
}

/** A splice as far as moments are concerned. */
type Place = Pick<Splice, 'startFrame' | 'endFrame'> & { filling?: Pick<Filling, 'frames'> };

/** Where splices bring the moments of a signal. */
export function spliceMap(splices: readonly Place[], sampleRateHz: number, frames: number): TimeMap {
  const knots: Knot[] = [[0, 0]];
  let longer = 0;
  for (const { startFrame, endFrame, filling } of splices) {
    knots.push([startFrame / sampleRateHz, (startFrame + longer) / sampleRateHz]);
    longer += (filling?.frames ?? 0) - (endFrame - startFrame);
    knots.push([endFrame / sampleRateHz, (endFrame + longer) / sampleRateHz]);
  }
  knots.push([frames / sampleRateHz, (frames + longer) / sampleRateHz]);
  return simplified(knots);
}

/** A source with splices, that can be read again from its start. @param fillings made anew for each reading */
export const splicedSource = (source: Source, splices: () => readonly Splice[], frames: number): Source => ({
  format: source.format,
  async *blocks(options) {
    const splicer = new Splicer(splices(), source.format, frames);
    for await (const block of source.blocks(options)) for (const out of splicer.process(block)) yield copyBlock(out);
    yield* splicer.flush();
  },
});
