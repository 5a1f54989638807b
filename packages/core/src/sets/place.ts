import type { Alignment } from '../align/align.ts';
import { ClockResampler } from '../dsp/clock-resampler.ts';
import { resampledSource } from '../dsp/resampled-source.ts';
import type { TimeSpan } from '../measure/room-tone-choice.ts';
import type { Block, Source } from '../signal/signal.ts';
import { endSplices, filling } from '../time/end-splices.ts';
import { splicedSource, spliceMap } from '../time/splice.ts';
import { composeMaps, type TimeMap } from '../time/time-map.ts';

/** A clock that is off by less is left alone: over ten hours that is a third of a millisecond. */
const LEAST_DRIFT_PPM = 0.01;

/** Where a member of a set lies on the time that they share. */
export type Placement = Pick<Alignment, 'offsetSeconds' | 'driftPpm'>;

const ratioOf = ({ driftPpm }: Placement): number => (Math.abs(driftPpm) < LEAST_DRIFT_PPM ? 1 : 1 + driftPpm * 1e-6);

/** From the first member's begin to the last one's end, on the time that they share. */
export function spanOfSet(members: readonly { place: Placement; seconds: number }[]): TimeSpan {
  const starts = members.map(({ place }) => place.offsetSeconds);
  const ends = members.map(({ place, seconds }) => place.offsetSeconds + seconds / ratioOf(place));
  return { startSeconds: Math.min(...starts), endSeconds: Math.max(...ends) };
}

/**
 * A member as long as its whole set: its clock put right, and its room before it begins and after it ends.
 * @param frames the source's; @param room stretches of its room tone
 */
export function placedSource(
  source: Source,
  frames: number,
  place: Placement,
  set: TimeSpan,
  room: readonly Block[],
): { source: Source; map: TimeMap } {
  const { format } = source;
  const { sampleRateHz } = format;
  const ratio = ratioOf(place);
  const inTime = ratio === 1 ? frames : ClockResampler.framesOf(frames, ratio);
  const total = Math.round((set.endSeconds - set.startSeconds) * sampleRateHz);
  const head = Math.min(
    total - inTime,
    Math.max(0, Math.round((place.offsetSeconds - set.startSeconds) * sampleRateHz)),
  );
  const change = { head, tail: total - inTime - head };
  const any = { head: inTime, tail: inTime };
  const splices = () => endSplices(change, any, inTime, (added) => filling(room, added, format));
  const clock: TimeMap = [
    [0, 0],
    [frames / sampleRateHz, inTime / sampleRateHz],
  ];
  return {
    source: splicedSource(ratio === 1 ? source : atClock(source, ratio), splices, inTime),
    map: composeMaps(clock, spliceMap(splices(), sampleRateHz, inTime)),
  };
}

const atClock = (source: Source, ratio: number): Source =>
  resampledSource(source, source.format, () => new ClockResampler(ratio, source.format.channels));
