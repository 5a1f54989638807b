import type { Recording } from '@tonos/contract';

type Told = Pick<Recording, 'id' | 'name' | 'kind' | 'status' | 'createdAt' | 'tags' | 'measurement'>;

/** Files of one session are sent together. */
const SENT_WITHIN_MS = 10 * 60_000;
/** Recorders are started by hand, one after the other. */
const BEGUN_WITHIN_SECONDS = 60;
/** Of the longer one. */
const LENGTHS_WITHIN = 0.05;
/** Where only names say it: chapters can be called alike, and are hardly ever so equally long. */
const SAME_LENGTH_WITHIN = 0.002;

/**
 * Recordings that were probably made at the same time: sent together, about as long as each other, and begun together by what their recorders
 * wrote, or called alike but for one word (“12 host.wav”, “12 guest.wav”). What is only counted (“Chapter 1”, “Chapter 2”) is no session.
 * It is a guess that people are asked about: linking listens.
 */
export function findSessions(recordings: readonly Told[]): string[][] {
  // where nobody speaks there was no talk
  const open = recordings.filter(
    ({ kind, status, measurement }) =>
      kind === 'voice' && status === 'ready' && measurement !== null && measurement.headSilenceSeconds !== null,
  );
  const sessions: string[][] = [];
  const taken = new Set<string>();
  for (const first of open) {
    if (taken.has(first.id)) continue;
    const mates = open.filter((one) => one !== first && !taken.has(one.id) && isOneSession(first, one));
    if (!mates.length) continue;
    const session = [first, ...mates].map(({ id }) => id);
    for (const id of session) taken.add(id);
    sessions.push(session);
  }
  return sessions;
}

function isOneSession(a: Told, b: Told): boolean {
  if (Math.abs(Date.parse(a.createdAt) - Date.parse(b.createdAt)) > SENT_WITHIN_MS) return false;
  const [longer, shorter] = [a, b].map((one) => one.measurement!.durationSeconds).sort((x, y) => y - x);
  if (longer - shorter > LENGTHS_WITHIN * longer) return false;
  const [begun, other] = [a.tags.timeReferenceSeconds, b.tags.timeReferenceSeconds];
  if (begun && other) return Math.abs(begun - other) <= BEGUN_WITHIN_SECONDS;
  return longer - shorter <= SAME_LENGTH_WITHIN * longer && areCalledAlike(a.name, b.name);
}

/** Words without what only counts the files of a session: "1 Host" and "2 Guest" differ by one word. */
const wordsOf = (name: string): string[] =>
  name
    .replace(/\.[^.]*$/, '')
    .toLowerCase()
    .split(/[\s_.,()-]+/)
    .filter(Boolean);

function areCalledAlike(a: string, b: string): boolean {
  const [own, other] = [wordsOf(a), wordsOf(b)];
  if (own.length !== other.length) return false;
  const differ = own.flatMap((word, i) => (word === other[i] ? [] : [[word, other[i]]]));
  const said = differ.filter((pair) => pair.some((word) => !/^\d+$/.test(word)));
  const isCountedBefore = differ.length - said.length <= (own[0] === other[0] ? 0 : 1);
  return said.length === 1 && isCountedBefore && own.some((word, i) => word === other[i]);
}
