import type { TimeSpan } from '@tonos/core';

const LEAST_SECONDS = 0.4;
const MOST_SECONDS = 8;

/** A click by itself is too short to be heard round and round, and a whole recording too long. */
export function hearable({ startSeconds, endSeconds }: TimeSpan): TimeSpan {
  const more = Math.max(0, LEAST_SECONDS - (endSeconds - startSeconds)) / 2;
  const start = Math.max(0, startSeconds - more);
  return { startSeconds: start, endSeconds: Math.min(endSeconds + more, start + MOST_SECONDS) };
}
