import type { Agree } from '../chain/run.ts';
import { ActivityMeter } from '../measure/activity/activity.ts';
import type { RoomTone } from '../measure/activity/room-tone.ts';
import { type Block, type CancelSignal, framesOf, type Source, sliceBlock } from '../signal/signal.ts';
import { endSplices, filling } from '../time/end-splices.ts';
import { roomToneStretches } from '../time/room-tone-stretches.ts';
import { splicedSource, spliceMap } from '../time/splice.ts';
import type { TimeMap } from '../time/time-map.ts';
import type { Limit, TargetFile } from './target-file.ts';

/** What was done to the ends of a signal: seconds added (or, negative, cut), and with what. */
export interface EndsNote {
  headSeconds: number;
  tailSeconds: number;
  filledWith: 'room tone' | 'silence' | null;
}

type Window = Pick<Limit, 'min' | 'max' | 'aim'>;

/** How far inside its window a corrected end lies, at most: what finds the speech reads in steps of 20 ms. */
const MARGIN_SECONDS = 0.25;
const SLACK_SECONDS = 0.04;

const windowOf = ({ limits }: TargetFile, measure: Limit['measure']): Window | undefined =>
  limits.find((limit) => limit.measure === measure);

/** Whether the finish has ends to see to. */
export const asksForEnds = (target: TargetFile): boolean =>
  windowOf(target, 'headSilenceSeconds') !== undefined || windowOf(target, 'tailSilenceSeconds') !== undefined;

/** By how much an end should grow (or shrink) to lie inside its window. */
function changeFor(seconds: number, window: Window | undefined): number {
  if (!window) return 0;
  const low = window.min ?? 0;
  const high = window.max ?? Number.POSITIVE_INFINITY;
  const margin = Math.min(MARGIN_SECONDS, (high - low) / 4);
  const slack = Math.min(SLACK_SECONDS, margin);
  if (seconds >= low + slack && seconds <= high - slack) return 0;
  if (window.aim !== undefined) return window.aim - seconds;
  return (seconds < low + slack ? low + margin : high - margin) - seconds;
}

interface Heard {
  frames: number;
  roomTone: readonly RoomTone[];
  /** Seconds without speech at the ends; undefined where nobody speaks. */
  ends: { head: number; tail: number } | undefined;
}

/** @param around only so many frames at either end, where it is longer: heard as if nothing lay between */
async function hear(
  source: Source,
  signal?: CancelSignal,
  around?: { head: number; tail: number; of: number },
): Promise<Heard> {
  const meter = new ActivityMeter(source.format);
  const { head, tailFrom } = around
    ? { head: around.head, tailFrom: Math.max(around.head, around.of - around.tail) }
    : { head: Number.POSITIVE_INFINITY, tailFrom: Number.POSITIVE_INFINITY };
  let frames = 0;
  let at = 0;
  const take = (block: Block, from: number, to: number) => {
    const [first, last] = [Math.max(0, from - at), Math.min(framesOf(block), to - at)];
    if (last <= first) return;
    meter.hear(sliceBlock(block, first, last));
    frames += last - first;
  };
  for await (const block of source.blocks({ signal })) {
    take(block, 0, head);
    take(block, tailFrom, Number.POSITIVE_INFINITY);
    at += framesOf(block);
  }
  const { speech, roomTone } = meter.conclude();
  const last = speech[speech.length - 1];
  const ends = last && {
    head: speech[0].startSeconds,
    tail: Math.max(0, frames / source.format.sampleRateHz - last.endSeconds),
  };
  return { frames, roomTone, ends };
}

/** Several at once have speech where any of them has. */
function endsOfAll(all: readonly Heard['ends'][]): Heard['ends'][] {
  const known = all.flatMap((ends) => (ends ? [ends] : []));
  const ends = known.length
    ? { head: Math.min(...known.map(({ head }) => head)), tail: Math.min(...known.map(({ tail }) => tail)) }
    : undefined;
  return all.map(() => ends);
}

/** New ends change what stands out as speech near them: what was made is heard again, and corrected. */
const MOST_ROUNDS = 3;
/** So much of what lies at an end is heard again: enough to tell speech from room. */
const NEAR_SECONDS = 60;

/**
 * The signal with the head and tail that a target asks for, cut or filled with the recording's own room tone.
 * A signal without speech has no ends and stays as it is.
 */
export async function fitEnds(
  source: Source,
  target: TargetFile,
  { signal, agree }: { signal?: CancelSignal; agree?: Agree } = {},
): Promise<{ source: Source; note: EndsNote | undefined; map?: TimeMap }> {
  const { frames, roomTone, ends: own } = await hear(source, signal);
  const ofAll = (key: string, ends: Heard['ends']) => (agree ? agree(`ends ${key}`, ends, endsOfAll) : ends);
  const first = await ofAll('at first', own);
  const changeOf = (ends: Heard['ends']) => ({
    head: ends ? changeFor(ends.head, windowOf(target, 'headSilenceSeconds')) : 0,
    tail: ends ? changeFor(ends.tail, windowOf(target, 'tailSilenceSeconds')) : 0,
  });
  let change = changeOf(first);
  if (!first || (!change.head && !change.tail)) return { source, note: undefined };
  const toFrames = (seconds: number) => Math.round(seconds * source.format.sampleRateHz);
  let stretches: Block[] | undefined;
  for (let round = 1; ; round++) {
    const fills = change.head > 0 || change.tail > 0;
    if (fills) stretches ??= await roomToneStretches(source, roomTone, signal);
    const frameChange = { head: toFrames(change.head), tail: toFrames(change.tail) };
    const splices = () =>
      endSplices(frameChange, { head: toFrames(first.head), tail: toFrames(first.tail) }, frames, (length) =>
        filling(stretches ?? [], length, source.format),
      );
    const ended = splicedSource(source, splices, frames);
    const near = (seconds: number) => toFrames(Math.max(0, seconds) + NEAR_SECONDS);
    const around = {
      head: near(first.head + change.head),
      tail: near(first.tail + change.tail),
      of: frames + toFrames(change.head) + toFrames(change.tail),
    };
    const more = changeOf(await ofAll(`in round ${round}`, (await hear(ended, signal, around)).ends));
    if (round === MOST_ROUNDS || (!more.head && !more.tail)) {
      const filledWith = !fills ? null : stretches?.length ? 'room tone' : 'silence';
      const map = spliceMap(splices(), source.format.sampleRateHz, frames);
      return { source: ended, note: { headSeconds: change.head, tailSeconds: change.tail, filledWith }, map };
    }
    change = { head: change.head + more.head, tail: change.tail + more.tail };
  }
}
