import { MemorySignal } from '../../signal/memory.ts';
import { type Block, copyBlock, emptyBlock, framesOf, type SignalFormat, sliceBlock } from '../../signal/signal.ts';
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
    private readonly format: SignalFormat,
    frames: number,
  ) {
    const { sampleRateHz } = format;
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
      this.inner ??= new Inner(this.repace(span.end - span.start), this.join, this.format);
      yield* this.inner.process(part);
      if (this.at < span.end) continue;
      yield* this.inner.flush();
      this.inner = undefined;
      this.next++;
    }
  }

  *flush(): Generator<Block> {
    if (this.inner) yield* this.inner.flush();
  }
}

/** One stretch: it goes over from the source at its start, and back into it at its end. Only the joins are held. */
class Inner {
  private readonly source: Held;
  private readonly made: Held;
  private isOver = false;

  constructor(
    private readonly retimer: Retimer,
    private readonly join: number,
    format: SignalFormat,
  ) {
    this.source = new Held(format);
    this.made = new Held(format);
  }

  *process(block: Block): Generator<Block> {
    this.source.add(block);
    for (const part of this.retimer.process(copyBlock(block))) this.made.add(part);
    yield* this.soFar();
  }

  *flush(): Generator<Block> {
    for (const part of this.retimer.flush()) this.made.add(part);
    yield* this.soFar();
    const [source, made] = [this.source, this.made].map((held) => held.take(held.frames));
    // too short for two joins, it stands as it is
    yield this.isOver ? crossfade(made, source) : made;
  }

  /** All but what the join at the end may still need. */
  private *soFar(): Generator<Block> {
    const { source, made, join } = this;
    if (!this.isOver) {
      if (source.frames < 2 * join || made.frames < 2 * join) return;
      yield crossfade(source.take(join), made.take(join));
      this.isOver = true;
    }
    source.take(source.frames - join);
    if (made.frames > join) yield made.take(made.frames - join);
  }
}

/** What has come and was not taken yet. */
class Held {
  private block: Block;

  constructor(private readonly format: SignalFormat) {
    this.block = emptyBlock(format.channels, 0);
  }

  get frames(): number {
    return framesOf(this.block);
  }

  add(block: Block): void {
    const both = new MemorySignal(this.format);
    both.write(this.block);
    both.write(block);
    this.block = both.joined();
  }

  take(frames: number): Block {
    const taken = sliceBlock(this.block, 0, Math.max(0, frames));
    this.block = sliceBlock(this.block, framesOf(taken), this.frames);
    return taken;
  }
}
