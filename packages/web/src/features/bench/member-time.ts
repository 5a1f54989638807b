import type { SetMember } from '@tonos/contract';
import type { TimeRange } from '../../plots/time-axis.ts';

const pace = ({ driftPpm }: SetMember) => 1 + driftPpm * 1e-6;

/** A range of one member, on the time of another. */
export function onTimeOf(own: SetMember, other: SetMember, { fromSeconds, toSeconds }: TimeRange): TimeRange {
  const moved = (seconds: number) => (own.offsetSeconds + seconds / pace(own) - other.offsetSeconds) * pace(other);
  return { fromSeconds: moved(fromSeconds), toSeconds: moved(toSeconds) };
}
