import type { RecordingSet, SetMember } from '@tonos/contract';
import type { TimeRange } from '../../plots/time-axis.ts';

const pace = ({ driftPpm }: SetMember) => 1 + driftPpm * 1e-6;

/** A range of one member, on the time of another. */
export function onTimeOf(own: SetMember, other: SetMember, { fromSeconds, toSeconds }: TimeRange): TimeRange {
  const moved = (seconds: number) => (own.offsetSeconds + seconds / pace(own) - other.offsetSeconds) * pace(other);
  return { fromSeconds: moved(fromSeconds), toSeconds: moved(toSeconds) };
}

/**
 * The members of a set once one of them lies by so much later. All are laid on the time of the first: where that one is moved, the others
 * go the other way.
 */
export function laidLater({ members }: RecordingSet, recordingId: string, seconds: number): SetMember[] {
  const isFirst = members[0].recordingId === recordingId;
  return members.map((member, i) => {
    const by = isFirst ? (i === 0 ? 0 : -seconds) : member.recordingId === recordingId ? seconds : 0;
    return by ? { ...member, offsetSeconds: member.offsetSeconds + by, confidence: 1 } : member;
  });
}
