import type { SpanOfSeconds } from '../../measure/activity/speech-edges.ts';
import type { Pause } from './pause-cuts.ts';

interface Heard {
  speech: SpanOfSeconds | null;
  pauses: readonly Pause[];
}

/** Pauses of several at once: where none of them speaks, between the first word of any and the last one of any. */
export function pausesOfAll(all: readonly Heard[]): Pause[] {
  const spoken = all.flatMap(({ speech }) => (speech ? [speech] : []));
  if (!spoken.length) return [];
  const startSeconds = Math.min(...spoken.map((speech) => speech.startSeconds));
  const endSeconds = Math.max(...spoken.map((speech) => speech.endSeconds));
  const whole: Pause = { startSeconds, endSeconds, quiet: [{ startSeconds, endSeconds }] };
  return all
    .map((heard) => silentIn(heard, whole))
    .reduce((shared, own) => shared.flatMap((a) => own.flatMap((b) => both(a, b))), [whole]);
}

/** Where one of them does not speak; before its first word and after its last one there is but its room. */
function silentIn({ speech, pauses }: Heard, { startSeconds, endSeconds }: SpanOfSeconds): Pause[] {
  const room = (from: number, to: number): Pause[] =>
    from < to ? [{ startSeconds: from, endSeconds: to, quiet: [{ startSeconds: from, endSeconds: to }] }] : [];
  if (!speech) return room(startSeconds, endSeconds);
  return [...room(startSeconds, speech.startSeconds), ...pauses, ...room(speech.endSeconds, endSeconds)];
}

function both(a: Pause, b: Pause): Pause[] {
  const shared = overlap(a, b);
  return shared.map((span) => ({
    ...span,
    quiet: a.quiet.flatMap((one) =>
      b.quiet.flatMap((other) => overlap(one, other).flatMap((part) => overlap(part, span))),
    ),
  }));
}

function overlap(a: SpanOfSeconds, b: SpanOfSeconds): SpanOfSeconds[] {
  const startSeconds = Math.max(a.startSeconds, b.startSeconds);
  const endSeconds = Math.min(a.endSeconds, b.endSeconds);
  return startSeconds < endSeconds ? [{ startSeconds, endSeconds }] : [];
}
