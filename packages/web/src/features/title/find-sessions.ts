import type { Recording } from '@tonos/contract';
import { bisector } from 'd3-array';

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
  const open = recordings
    .filter(
      ({ kind, status, measurement }) =>
        kind === 'voice' && status === 'ready' && measurement !== null && measurement.headSilenceSeconds !== null,
    )
    .map(knownOf);
  const bySent = open.toSorted((a, b) => a.sentMs - b.sentMs);
  const sessions: string[][] = [];
  const taken = new Set<string>();
  for (const first of open) {
    if (taken.has(first.id)) continue;
    const mates = sentWith(bySent, first).filter((one) => !taken.has(one.id) && isOneSession(first, one));
    if (!mates.length) continue;
    const session = [first, ...mates.sort((a, b) => a.place - b.place)].map(({ id }) => id);
    for (const id of session) taken.add(id);
    sessions.push(session);
  }
  return sessions;
}

/** What is looked at of each again and again. */
const knownOf = ({ id, name, createdAt, tags, measurement }: Told, place: number) => ({
  id,
  name,
  place,
  sentMs: Date.parse(createdAt),
  seconds: measurement!.durationSeconds,
  begunSeconds: tags.timeReferenceSeconds,
});
type Known = ReturnType<typeof knownOf>;

/** Those that were sent shortly before or behind one, among all in the order in which they were. */
function sentWith(bySent: readonly Known[], first: Known): Known[] {
  const from = bisector<Known, number>(({ sentMs }) => sentMs).left(bySent, first.sentMs - SENT_WITHIN_MS);
  const found: Known[] = [];
  for (let i = from; i < bySent.length && bySent[i].sentMs <= first.sentMs + SENT_WITHIN_MS; i++)
    if (bySent[i] !== first) found.push(bySent[i]);
  return found;
}

function isOneSession(a: Known, b: Known): boolean {
  const [longer, shorter] = a.seconds > b.seconds ? [a.seconds, b.seconds] : [b.seconds, a.seconds];
  if (longer - shorter > LENGTHS_WITHIN * longer) return false;
  if (a.begunSeconds && b.begunSeconds) return Math.abs(a.begunSeconds - b.begunSeconds) <= BEGUN_WITHIN_SECONDS;
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
