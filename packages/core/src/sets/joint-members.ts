import type { TimeCut } from '../cuts/cut.ts';
import type { TimeSpan } from '../measure/room-tone-choice.ts';
import type { SignalFormat } from '../signal/signal.ts';
import { spanToResult, type TimeMap } from '../time/time-map.ts';
import { jointCuts } from './joint-cuts.ts';
import { type Placement, placedSource, spanOfSet } from './place.ts';

/** A member of a set as it is known before it is read again. */
export interface KnownMember<Mark> {
  place: Placement;
  /** Of its sound. */
  frames: number;
  format: SignalFormat;
  /** In its own time. */
  cuts: readonly TimeCut[];
  marks: readonly Mark[];
}

export interface JointMembers<Mark> {
  /** On the time that the members share. */
  span: TimeSpan;
  /** By member: from its own time to the shared one. */
  maps: TimeMap[];
  /** By member: what is cut of it, on the shared time. */
  cuts: TimeCut[][];
  /** Of all of them, on the shared time. */
  marks: Mark[];
}

/** What members of a set have in common: one span of time, what changes it, and the places that are marked in any of them. */
export function jointMembers<Mark extends TimeSpan>(members: readonly KnownMember<Mark>[]): JointMembers<Mark> {
  const span = spanOfSet(
    members.map(({ place, frames, format }) => ({ place, seconds: frames / format.sampleRateHz })),
  );
  const maps = members.map(({ place, frames, format }) => {
    const unheard = { format, blocks: async function* () {} };
    return placedSource(unheard, frames, place, span, []).map;
  });
  return {
    span,
    maps,
    cuts: jointCuts(members.map(({ cuts }, m) => ({ cuts, map: maps[m] }))),
    marks: members.flatMap(({ marks }, m) => marks.map((mark) => spanToResult(maps[m], mark))),
  };
}
