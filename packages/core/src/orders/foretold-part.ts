import { mapOfCuts, type TimeCut } from '../cuts/cut.ts';
import { toResult } from '../time/time-map.ts';
import type { OrderPart } from './order-file.ts';
import type { KnownPart } from './resolve-order.ts';

/** A part as long as it will be, by what is known of its recording without reading it. A chain that changes its length is not foreseen. */

export interface MeasuredRecording {
  durationSeconds: number;
  channels: number;
  cuts: readonly TimeCut[];
  /** In the recording's own time. */
  marks: readonly { name: string; startSeconds: number }[];
}

/** From where to where a part sounds of its recording, in the recording's own time. */
export function stretchOfPart({ source }: OrderPart, durationSeconds: number): [from: number, to: number] {
  const { startSeconds, endSeconds } = 'recording' in source ? source : { startSeconds: 0, endSeconds: null };
  return [startSeconds, Math.min(endSeconds ?? durationSeconds, durationSeconds)];
}

export function foretoldPart(
  part: OrderPart,
  { durationSeconds, channels, cuts, marks }: MeasuredRecording,
  sampleRateHz: number,
): KnownPart {
  const map = mapOfCuts(cuts, durationSeconds);
  const [from, to] = stretchOfPart(part, durationSeconds).map((seconds) => toResult(map, seconds));
  return {
    frames: Math.max(0, Math.round((to - from) * sampleRateHz)),
    channels,
    marks: marks.map(({ name, startSeconds }) => ({
      name,
      frame: Math.round((toResult(map, startSeconds) - from) * sampleRateHz),
    })),
  };
}
