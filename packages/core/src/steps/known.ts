import type { TimeSpan } from '../measure/room-tone-choice.ts';
import { spanToResult, type TimeMap } from '../time/time-map.ts';
import type { KnownOfRecording } from './step.ts';

/** What is known of a recording, in the time of a stretch of it that begins later. */
export function knownFrom({ roomTone, marks }: KnownOfRecording, startSeconds: number): KnownOfRecording {
  const shift = <Span extends TimeSpan>(spans: readonly Span[] = []): Span[] =>
    spans
      .filter(({ endSeconds }) => endSeconds > startSeconds)
      .map((span) => ({
        ...span,
        startSeconds: Math.max(0, span.startSeconds - startSeconds),
        endSeconds: span.endSeconds - startSeconds,
      }));
  return {
    marks: shift(marks),
    ...(roomTone ? { roomTone: { use: shift(roomTone.use), never: shift(roomTone.never) } } : {}),
  };
}

/** What is known of a recording, after its moments were moved; what was taken out whole has gone with its sound. */
export function mapKnown({ roomTone, marks }: KnownOfRecording, map: TimeMap): KnownOfRecording {
  const moved = <Span extends TimeSpan>(spans: readonly Span[]): Span[] =>
    spans
      .map((span) => spanToResult(map, span))
      .filter(
        ({ startSeconds, endSeconds }, i) => endSeconds > startSeconds || spans[i].endSeconds === spans[i].startSeconds,
      );
  return {
    ...(marks && { marks: moved(marks) }),
    ...(roomTone && { roomTone: { use: moved(roomTone.use), never: moved(roomTone.never) } }),
  };
}
