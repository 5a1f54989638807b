import * as z from 'zod';
import type { KnownOfRecording } from '../steps/step.ts';

/** Where a step applies: inside the marks of these names, entered and left through a crossfade. */
export const scope = z.strictObject({
  marks: z.array(z.string().trim().min(1).max(200)).min(1).max(100),
  crossfadeMs: z.number().min(0).max(1000).default(20),
});

export type Scope = z.output<typeof scope>;

interface Span {
  start: number;
  end: number;
}

/** How much of a scoped step is heard, frame by frame: 0 outside, 1 inside, between them a fade with its middle on the edge. */
export class ScopeFade {
  private readonly spans: Span[];
  private readonly half: number;
  private near = 0;

  constructor({ marks: names, crossfadeMs }: Scope, { marks = [] }: KnownOfRecording, sampleRateHz: number) {
    const called = marks
      .filter(({ name, startSeconds, endSeconds }) => names.includes(name) && endSeconds > startSeconds)
      .map(({ startSeconds, endSeconds }) => ({ start: startSeconds * sampleRateHz, end: endSeconds * sampleRateHz }))
      .sort((a, b) => a.start - b.start);
    // where marks overlap, one stretch comes of them
    this.spans = [];
    for (const span of called) {
      const last = this.spans.at(-1);
      if (last && span.start <= last.end) last.end = Math.max(last.end, span.end);
      else this.spans.push({ ...span });
    }
    this.half = Math.max(0.5, (crossfadeMs * sampleRateHz) / 2000);
  }

  get isNowhere(): boolean {
    return this.spans.length === 0;
  }

  /** Whether nothing of the step is heard from one frame to another. */
  isOutside(from: number, to: number): boolean {
    const next = this.spans[this.firstThatEndsFrom(from - this.half)];
    return !next || to < next.start - this.half;
  }

  /** What lies inside of `frames` frames from `from` on: pairs of offsets, in order. */
  *inside(from: number, frames: number): Generator<[start: number, end: number]> {
    for (let at = this.firstThatEndsFrom(from); at < this.spans.length; at++) {
      const { start, end } = this.spans[at];
      if (start > from + frames) return;
      const [first, last] = [Math.max(0, Math.round(start) - from), Math.min(frames, Math.round(end) - from)];
      if (first < last) yield [first, last];
    }
  }

  /** 0 to 1 through the fade. */
  at(frame: number): number {
    let most = 0;
    for (let at = this.firstThatEndsFrom(frame - this.half); at < this.spans.length; at++) {
      const { start, end } = this.spans[at];
      if (start - this.half > frame) break;
      const inside = Math.min(frame - start, end - frame);
      const share = Math.min(1, Math.max(0, (inside + this.half) / (2 * this.half)));
      if (share > most) most = share;
    }
    return most;
  }

  /** Frames are asked for in order, mostly: from where the last one was, there is seldom a step to go. */
  private firstThatEndsFrom(frame: number): number {
    const { spans } = this;
    while (this.near > 0 && spans[this.near - 1].end >= frame) this.near--;
    while (this.near < spans.length && spans[this.near].end < frame) this.near++;
    return this.near;
  }
}
