import type { Recording } from '@tonos/contract';
import type { PickUp, TimeSpan } from '@tonos/core';

/** What is called so was recorded to be laid into others. */
const SESSION = /pick.?up|retake|correction|insert/i;
/** A short one is a line read again: all of it is meant. */
const SHORT_SECONDS = 30;

const isSession = ({ name, givenName, room, microphone }: Recording): boolean =>
  [name, givenName, room, microphone].some((text) => SESSION.test(text));

/** The recordings that a pick-up may come from, those of pick-up sessions first. */
export function pickUpSources(others: readonly Recording[]): Recording[] {
  const readable = others.filter(({ status }) => status === 'ready');
  return [...readable.filter(isSession), ...readable.filter((one) => !isSession(one))];
}

export const firstOf = (others: readonly Recording[]): Recording | undefined => pickUpSources(others)[0];

/** What of a recording is laid in at first: its speech where it is short, else as much as it stands for. */
export function pickUpFrom(
  { id, measurement }: Recording,
  { startSeconds, endSeconds }: TimeSpan,
): Omit<PickUp, 'id' | 'on' | 'kind' | 'startSeconds' | 'endSeconds'> {
  const { durationSeconds = 0, headSilenceSeconds, tailSilenceSeconds } = measurement ?? {};
  const fromSeconds = Math.max(0, (headSilenceSeconds ?? 0) - 0.1);
  const spoken = Math.min(durationSeconds, durationSeconds - (tailSilenceSeconds ?? 0) + 0.1);
  const toSeconds =
    durationSeconds <= SHORT_SECONDS ? spoken : Math.min(durationSeconds, fromSeconds + endSeconds - startSeconds);
  const rounded = (seconds: number) => Math.round(seconds * 1000) / 1000;
  return {
    recordingId: id,
    fromSeconds: rounded(fromSeconds),
    toSeconds: rounded(Math.max(fromSeconds + 0.05, toSeconds)),
    matchLevel: true,
    matchTone: true,
    matchRoom: true,
  };
}
