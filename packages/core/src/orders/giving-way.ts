import type { TimeSpan } from '../measure/room-tone-choice.ts';
import { dbToGain } from '../signal/decibels.ts';
import type { GivingWay } from './order-file.ts';

/**
 * How far a group is down while others speak, known before they do: straight lines in decibels between moments. It begins to fall before the
 * first word and is down at it; after a while of quiet it comes back. Speech that begins meanwhile turns it from where it is.
 */
export type GainLine = readonly (readonly [seconds: number, gainDb: number])[];

/** No step of a gain is steeper: it would click. */
const LEAST_RAMP_SECONDS = 0.005;

/** @param speech of the others, in order, not overlapping */
export function givingWayLine(
  speech: readonly TimeSpan[],
  { byDb, leadSeconds, holdSeconds, releaseSeconds }: Omit<GivingWay, 'group' | 'of'>,
): GainLine {
  const lead = Math.max(LEAST_RAMP_SECONDS, leadSeconds);
  const release = Math.max(LEAST_RAMP_SECONDS, releaseSeconds);
  const line: [number, number][] = [];
  /** When it begins to come back, if nobody speaks again. */
  let back = Number.NEGATIVE_INFINITY;
  for (const { startSeconds, endSeconds } of speech) {
    const from = startSeconds - lead;
    if (from > back) {
      // how far it has come back by then
      const up = Math.min(1, (from - back) / release);
      if (line.length) line.push([back, -byDb], [back + up * release, -byDb * (1 - up)]);
      line.push([from, -byDb * (1 - up)], [startSeconds, -byDb]);
    }
    back = Math.max(back, endSeconds + holdSeconds);
  }
  if (line.length) line.push([back, -byDb], [back + release, 0]);
  return line;
}

/** How each group that gives way goes down. @param speech of those that it gives way to, by group */
export function givingWayLines(
  under: readonly GivingWay[],
  speech: ReadonlyMap<string, readonly TimeSpan[]>,
): Record<string, GainLine[]> {
  const lines: Record<string, GainLine[]> = {};
  for (const way of under) {
    const line = givingWayLine(joinedSpans(way.of.flatMap((other) => speech.get(other) ?? [])), way);
    lines[way.group] = [...(lines[way.group] ?? []), line];
  }
  return lines;
}

/** Stretches of speech of several, as one list. */
export function joinedSpans(spans: readonly TimeSpan[]): TimeSpan[] {
  const joined: TimeSpan[] = [];
  for (const span of [...spans].sort((a, b) => a.startSeconds - b.startSeconds)) {
    const last = joined.at(-1);
    if (last && span.startSeconds <= last.endSeconds) last.endSeconds = Math.max(last.endSeconds, span.endSeconds);
    else joined.push({ ...span });
  }
  return joined;
}

/** The gain of a line for one frame after the other. It must be asked in order. */
export class LineGain {
  private next = 0;

  constructor(
    private readonly line: GainLine,
    private readonly sampleRateHz: number,
  ) {}

  /** Multiplies a gain for each frame from `start` on into `gains`. */
  applyTo(gains: Float32Array, start: number): void {
    const { line, sampleRateHz } = this;
    if (!line.length) return;
    for (let i = 0; i < gains.length; ) {
      const seconds = (start + i) / sampleRateHz;
      while (this.next < line.length && line[this.next][0] <= seconds) this.next++;
      const [low, high] = [line[this.next - 1], line[this.next]];
      const until = high ? Math.ceil(high[0] * sampleRateHz) - start : gains.length;
      const end = Math.min(gains.length, Math.max(i + 1, until));
      if (!low || !high || low[1] === high[1]) {
        const gain = dbToGain((low ?? high)[1]);
        for (; i < end; i++) gains[i] *= gain;
      } else {
        const slope = (high[1] - low[1]) / (high[0] - low[0]);
        let gain = dbToGain(low[1] + slope * (seconds - low[0]));
        const ratio = dbToGain(slope / sampleRateHz);
        for (; i < end; i++) {
          gains[i] *= gain;
          gain *= ratio;
        }
      }
    }
  }
}
