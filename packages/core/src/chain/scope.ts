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

  constructor({ marks: names, crossfadeMs }: Scope, { marks = [] }: KnownOfRecording, sampleRateHz: number) {
    this.spans = marks
      .filter(({ name, startSeconds, endSeconds }) => names.includes(name) && endSeconds > startSeconds)
      .map(({ startSeconds, endSeconds }) => ({ start: startSeconds * sampleRateHz, end: endSeconds * sampleRateHz }));
    this.half = Math.max(0.5, (crossfadeMs * sampleRateHz) / 2000);
  }

  get isNowhere(): boolean {
    return this.spans.length === 0;
  }

  /** Whether nothing of the step is heard from one frame to another. */
  isOutside(from: number, to: number): boolean {
    return this.spans.every(({ start, end }) => to < start - this.half || from > end + this.half);
  }

  /** 0 to 1 through the fade. */
  at(frame: number): number {
    let most = 0;
    for (const { start, end } of this.spans) {
      const inside = Math.min(frame - start, end - frame);
      const share = Math.min(1, Math.max(0, (inside + this.half) / (2 * this.half)));
      if (share > most) most = share;
    }
    return most;
  }
}
