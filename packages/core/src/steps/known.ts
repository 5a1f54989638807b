import type { TimeSpan } from '../measure/room-tone-choice.ts';
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
