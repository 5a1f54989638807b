import { median, quantile } from '../../dsp/quantile.ts';
import { type Block, type CancelSignal, framesOf, type SignalFormat, type Source } from '../../signal/signal.ts';
import { ActivityMeter } from './activity.ts';
import type { Run } from './activity-frames.ts';
import { FINE_PER_SECOND, FineLevels } from './fine-levels.ts';
import type { RoomTone } from './room-tone.ts';

/**
 * Where speech begins and ends, to 5 ms: the activity meter tells which runs are speech, in steps of 20 ms and smoothed; from inside each
 * the level is followed outwards to where it sinks into the room.
 */

/** Speech stands so far over the room beside it. */
const OVER_ROOM_DB = 6;
/** Far under its own level speech is over, however quiet the room is. */
const UNDER_SPEECH_DB = 45;
/** An edge is looked for so far from where the meter has it. */
const REACH = 0.24 * FINE_PER_SECOND;
/** A dip in a word is no end. */
const DIP = 0.02 * FINE_PER_SECOND;
/** Short and so far under the speech, it is a breath or a page: part of the pause that it lies in. */
const BREATH_UNDER_SPEECH_DB = 18;
const MOST_BREATH = 0.7 * FINE_PER_SECOND;
/** What is no louder than this over the room is the room: not a breath, not a page. */
const QUIET_OVER_ROOM_DB = 5;
const LEAST_QUIET = 0.06 * FINE_PER_SECOND;

export interface SpanOfSeconds {
  startSeconds: number;
  endSeconds: number;
}

/** What lies between two runs of speech. */
export interface Gap extends SpanOfSeconds {
  /** Stretches in which only the room sounds, in order. */
  quiet: SpanOfSeconds[];
}

export interface SpeechEdges {
  frames: number;
  /** In order; none where nobody speaks. */
  speech: SpanOfSeconds[];
  gaps: Gap[];
  /** Short and far under the speech: breaths, and what sounds like them. */
  breaths: SpanOfSeconds[];
  roomTone: RoomTone[];
}

export class SpeechEdgeMeter {
  private readonly activity: ActivityMeter;
  private readonly levels: FineLevels;
  private frames = 0;

  constructor(format: SignalFormat) {
    this.activity = new ActivityMeter(format);
    this.levels = new FineLevels(format);
  }

  hear(block: Block): void {
    this.frames += framesOf(block);
    this.activity.hear(block);
    this.levels.hear(block);
  }

  conclude(): SpeechEdges {
    const { speech: runs, roomTone } = this.activity.conclude();
    const coarse = runs.map(({ startSeconds, endSeconds }) => ({
      start: Math.round(startSeconds * FINE_PER_SECOND),
      end: Math.min(this.levels.count, Math.round(endSeconds * FINE_PER_SECOND)),
    }));
    const { speech: edges, breaths } = this.apart(
      coarse.map(({ start, end }, i) => ({
        start: this.edge(start, -1, coarse[i - 1]?.end ?? 0, end),
        end: this.edge(end - 1, 1, coarse[i + 1]?.start ?? this.levels.count, start) + 1,
      })),
    );
    const seconds = ({ start, end }: Run): SpanOfSeconds => ({
      startSeconds: start / FINE_PER_SECOND,
      endSeconds: end / FINE_PER_SECOND,
    });
    const gaps = edges.slice(1).map(({ start }, i) => {
      const gap = { start: edges[i].end, end: Math.max(edges[i].end, start) };
      return { ...seconds(gap), quiet: this.quietIn(gap.start, gap.end).map(seconds) };
    });
    return { frames: this.frames, speech: edges.map(seconds), gaps, breaths: breaths.map(seconds), roomTone };
  }

  /** Speech, and breaths. */
  private apart(runs: readonly Run[]): { speech: Run[]; breaths: Run[] } {
    const levels = runs.map(({ start, end }) => {
      const own = Array.from({ length: Math.max(0, end - start) }, (_, i) => this.levels.levelDb(start + i));
      return median(own) ?? Number.NEGATIVE_INFINITY;
    });
    const usual = (median(levels) ?? 0) - BREATH_UNDER_SPEECH_DB;
    const isSpeech = ({ start, end }: Run, i: number) => end - start >= MOST_BREATH || levels[i] >= usual;
    return { speech: runs.filter(isSpeech), breaths: runs.filter((run, i) => !isSpeech(run, i)) };
  }

  /**
   * From a frame at an end of speech to where the level sinks into the room.
   * @param outwards -1 at a start, 1 at an end
   * @param limit where the next run of speech lies on that side; @param inside the other end of this one
   */
  private edge(from: number, outwards: -1 | 1, limit: number, inside: number): number {
    const { levels } = this;
    const level = (i: number) => levels.levelDb(Math.max(0, Math.min(levels.count - 1, i)));
    const room = this.roomBeside(from, outwards, limit);
    const within = Math.min(Math.abs(inside - from), FINE_PER_SECOND / 2);
    let loud = Number.NEGATIVE_INFINITY;
    for (let k = 0; k <= within; k++) loud = Math.max(loud, level(from - outwards * k));
    const threshold = Math.max(room + OVER_ROOM_DB, loud - UNDER_SPEECH_DB);
    // inwards to where there is speech for sure, then outwards while it goes on
    let at = from;
    for (let k = 0; k < REACH && level(at) <= threshold; k++) at -= outwards;
    if (level(at) <= threshold) return from;
    let last = at;
    for (let k = 1; k - Math.abs(last - at) <= DIP && Math.abs(at + outwards * k - from) <= REACH; k++) {
      const next = at + outwards * k;
      if (next < 0 || next >= levels.count || next === limit) break;
      if (level(next) > threshold) last = next;
    }
    return last;
  }

  /** The level of the room on the outer side of an edge, apart from where the edge itself may lie. */
  private roomBeside(from: number, outwards: -1 | 1, limit: number): number {
    const [low, high] = outwards < 0 ? [limit, from] : [from + 1, limit];
    const reach = FINE_PER_SECOND;
    const near = outwards < 0 ? [Math.max(low, high - reach), high] : [low, Math.min(high, low + reach)];
    const found: number[] = [];
    for (let i = Math.max(0, near[0]); i < Math.min(this.levels.count, near[1]); i++)
      found.push(this.levels.levelDb(i));
    return quantile(found, 0.3) ?? Number.NEGATIVE_INFINITY;
  }

  /** Stretches of a gap in which nothing but the room sounds. */
  private quietIn(start: number, end: number): Run[] {
    const found: number[] = [];
    for (let i = start; i < end; i++) found.push(this.levels.levelDb(i));
    const most = (quantile(found, 0.3) ?? 0) + QUIET_OVER_ROOM_DB;
    const runs: Run[] = [];
    let from = start;
    for (let i = start; i <= end; i++) {
      if (i < end && found[i - start] <= most) continue;
      if (i - from >= LEAST_QUIET) runs.push({ start: from, end: i });
      from = i + 1;
    }
    return runs;
  }
}

/** Hears a whole source. */
export async function speechEdgesOf(source: Source, signal?: CancelSignal): Promise<SpeechEdges> {
  const meter = new SpeechEdgeMeter(source.format);
  for await (const block of source.blocks({ signal })) {
    signal?.throwIfAborted();
    meter.hear(block);
  }
  return meter.conclude();
}
