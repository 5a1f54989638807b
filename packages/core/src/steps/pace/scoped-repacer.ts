import { type Block, framesOf, type SignalFormat, sliceBlock } from '../../signal/signal.ts';
import { crossfade } from '../../time/join.ts';
import { type Knot, simplified, type TimeMap } from '../../time/time-map.ts';
import type { Retimer } from '../step.ts';

const JOIN_SECONDS = 0.008;

interface FrameSpan {
  start: number;
  end: number;
}

/** Stretches in frames, in order; those that overlap are one. */
export function framesOfSpans(
  spans: readonly { startSeconds: number; endSeconds: number }[],
  { sampleRateHz }: SignalFormat,
  frames: number,
): FrameSpan[] {
  const inside = (seconds: number) => Math.min(frames, Math.max(0, Math.round(seconds * sampleRateHz)));
  const merged: FrameSpan[] = [];
  for (const { startSeconds, endSeconds } of spans.toSorted((a, b) => a.startSeconds - b.startSeconds)) {
    const span = { start: inside(startSeconds), end: inside(endSeconds) };
    const last = merged.at(-1);
    if (span.end <= span.start) continue;
    if (last && span.start <= last.end) last.end = Math.max(last.end, span.end);
    else merged.push(span);
  }
  return merged;
}

/** Another pace inside of some stretches only: each is a signal of its own, joined to what lies round it. */
export class ScopedRepacer implements Retimer {
  readonly map: TimeMap;
  private readonly join: number;
  private at = 0;
  private next = 0;
  private inner: Inner | undefined;

  /** @param spans in order and apart; @param repace makes what a stretch of so many frames goes through */
  constructor(
    private readonly spans: readonly FrameSpan[],
    private readonly repace: (frames: number) => Retimer,
    { sampleRateHz }: SignalFormat,
    frames: number,
  ) {
    this.join = Math.round(JOIN_SECONDS * sampleRateHz);
    const knots: Knot[] = [[0, 0]];
    let later = 0;
    for (const { start, end } of spans) {
      const [first, last] = [start / sampleRateHz, end / sampleRateHz];
      knots.push([first, first + later]);
      later += repace(end - start).map.at(-1)![1] - (last - first);
      knots.push([last, last + later]);
    }
    knots.push([frames / sampleRateHz, frames / sampleRateHz + later]);
    this.map = simplified(knots);
  }

  *process(block: Block): Generator<Block> {
    const start = this.at;
    const end = start + framesOf(block);
    while (this.at < end) {
      const from = this.at;
      const span = this.spans[this.next];
      this.at = Math.min(end, !span ? end : from < span.start ? span.start : span.end);
      const part = sliceBlock(block, from - start, this.at - start);
      if (!span || from < span.start) {
        yield part;
        continue;
      }
      this.inner ??= new Inner(this.repace(span.end - span.start), Math.min(this.join, (span.end - span.start) >> 1));
      this.inner.hear(part);
      if (this.at < span.end) continue;
      yield* this.inner.joined();
      this.inner = undefined;
      this.next++;
    }
  }

  *flush(): Generator<Block> {
    if (this.inner) yield* this.inner.joined();
  }
}

/** One stretch, held until it is whole: marks are short against a recording. */
class Inner {
  private readonly source: Block[] = [];
  private readonly made: Block[] = [];

  constructor(
    private readonly retimer: Retimer,
    private readonly join: number,
  ) {}

  hear(block: Block): void {
    const own = block.map((channel) => channel.slice());
    this.source.push(own);
    for (const part of this.retimer.process(own.map((channel) => channel.slice()))) this.keep(part);
  }

  /** Goes over from the source at its start, and back into it at its end. */
  *joined(): Generator<Block> {
    for (const part of this.retimer.flush()) this.keep(part);
    const [source, made] = [together(this.source), together(this.made)];
    const { join } = this;
    const [long, frames] = [framesOf(source), framesOf(made)];
    if (frames < 2 * join) {
      yield made;
      return;
    }
    yield crossfade(sliceBlock(source, 0, join), sliceBlock(made, 0, join));
    yield sliceBlock(made, join, frames - join);
    yield crossfade(sliceBlock(made, frames - join, frames), sliceBlock(source, long - join, long));
  }

  private keep(block: Block): void {
    this.made.push(block.map((channel) => channel.slice()));
  }
}

function together(blocks: readonly Block[]): Block {
  const frames = blocks.reduce((sum, block) => sum + framesOf(block), 0);
  const channels = blocks[0]?.length ?? 0;
  return Array.from({ length: channels }, (_, c) => {
    const whole = new Float32Array(frames);
    let at = 0;
    for (const block of blocks) {
      whole.set(block[c], at);
      at += block[c].length;
    }
    return whole;
  });
}
