import { ActivityMeter } from '../measure/activity/activity.ts';
import type { RoomTone } from '../measure/activity/room-tone.ts';
import { type Block, type CancelSignal, framesOf, type Source, sliceBlock } from '../signal/signal.ts';
import { roomToneFill } from './room-tone-fill.ts';
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
const SEAM_SECONDS = 0.02;
const CUT_FADE_SECONDS = 0.005;
const ENOUGH_TONE_SECONDS = 10;

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
  { signal }: { signal?: CancelSignal } = {},
): Promise<{ source: Source; note: EndsNote | undefined }> {
  const { frames, roomTone, ends: first } = await hear(source, signal);
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
    if (fills) stretches ??= await stretchesOf(source, roomTone, signal);
    const ended = new EndedSource(source, frames, stretches ?? [], {
      headFrames: toFrames(change.head),
      tailFrames: toFrames(change.tail),
      quietHead: toFrames(first.head),
      quietTail: toFrames(first.tail),
    });
    const near = (seconds: number) => toFrames(Math.max(0, seconds) + NEAR_SECONDS);
    const around = {
      head: near(first.head + change.head),
      tail: near(first.tail + change.tail),
      of: frames + toFrames(change.head) + toFrames(change.tail),
    };
    const more = changeOf((await hear(ended, signal, around)).ends);
    if (round === MOST_ROUNDS || (!more.head && !more.tail)) {
      const filledWith = !fills ? null : stretches?.length ? 'room tone' : 'silence';
      return { source: ended, note: { headSeconds: change.head, tailSeconds: change.tail, filledWith } };
    }
    change = { head: change.head + more.head, tail: change.tail + more.tail };
  }
}

/** The samples of the best stretches, a few seconds in all. */
async function stretchesOf(source: Source, roomTone: readonly RoomTone[], signal?: CancelSignal): Promise<Block[]> {
  const { sampleRateHz, channels } = source.format;
  let left = Math.round(ENOUGH_TONE_SECONDS * sampleRateHz);
  const wanted: { start: number; samples: Float32Array[] }[] = [];
  for (const { startSeconds, endSeconds } of roomTone) {
    const start = Math.round(startSeconds * sampleRateHz);
    const frames = Math.min(left, Math.round(endSeconds * sampleRateHz) - start);
    if (frames < 2) break;
    left -= frames;
    wanted.push({ start, samples: Array.from({ length: channels }, () => new Float32Array(frames)) });
  }
  const last = Math.max(0, ...wanted.map(({ start, samples }) => start + samples[0].length));
  let at = 0;
  for await (const block of source.blocks({ signal })) {
    const end = at + framesOf(block);
    for (const { start, samples } of wanted) {
      const from = Math.max(start, at);
      const to = Math.min(start + samples[0].length, end);
      if (from < to) samples.forEach((to_, c) => to_.set(block[c].subarray(from - at, to - at), from - start));
    }
    at = end;
    if (at >= last) break;
  }
  return wanted.map(({ samples }) => samples);
}

interface EndFrames {
  /** Added, or cut where negative. */
  headFrames: number;
  tailFrames: number;
  /** Frames without speech that the signal has at its ends. */
  quietHead: number;
  quietTail: number;
}

/** A source with other ends. A fill overlaps the signal by a short seam of equal power; a cut fades over 5 ms. */
class EndedSource implements Source {
  readonly format: Source['format'];
  private readonly cutHead: number;
  private readonly end: number;
  private readonly fadeIn: number;
  private readonly fadeOut: number;
  private readonly headFill: Block;
  private readonly tailFill: Block;

  constructor(
    private readonly source: Source,
    frames: number,
    stretches: readonly Block[],
    { headFrames, tailFrames, quietHead, quietTail }: EndFrames,
  ) {
    this.format = source.format;
    const { sampleRateHz, channels } = source.format;
    const seam = Math.round(SEAM_SECONDS * sampleRateHz);
    const cutFade = Math.round(CUT_FADE_SECONDS * sampleRateHz);
    const fadeFor = (change: number, quiet: number) =>
      change > 0 ? Math.min(seam, quiet) : change < 0 ? Math.min(cutFade, quiet + change) : 0;
    this.cutHead = Math.max(0, -headFrames);
    this.end = frames - Math.max(0, -tailFrames);
    this.fadeIn = Math.max(0, fadeFor(headFrames, quietHead));
    this.fadeOut = Math.max(0, fadeFor(tailFrames, quietTail));
    const fillOf = (added: number) => roomToneFill(stretches, added > 0 ? added + seam : 0, channels, sampleRateHz);
    this.headFill = faded(fillOf(headFrames), seam, 'end');
    this.tailFill = faded(fillOf(tailFrames), seam, 'start');
  }

  async *blocks({ signal }: { signal?: CancelSignal } = {}): AsyncGenerator<Block> {
    const seamFrames = Math.round(SEAM_SECONDS * this.format.sampleRateHz);
    const headFill = framesOf(this.headFill);
    const headAlone = Math.max(0, headFill - seamFrames);
    const tailFill = framesOf(this.tailFill);
    const tailSeamStart = tailFill ? this.end - seamFrames : this.end;
    if (headAlone) yield this.headFill.map((channel) => channel.slice(0, headAlone));
    let at = 0;
    for await (const whole of this.source.blocks({ signal })) {
      const from = Math.max(0, this.cutHead - at);
      const to = Math.min(framesOf(whole), this.end - at);
      const block = whole.map((channel) => channel.slice(from, Math.max(from, to)));
      const start = at + from;
      at += framesOf(whole);
      if (!framesOf(block)) continue;
      block.forEach((channel, c) => {
        for (let i = 0; i < channel.length; i++) {
          const frame = start + i;
          const sinceStart = frame - this.cutHead;
          const beforeEnd = this.end - 1 - frame;
          if (sinceStart < this.fadeIn) channel[i] *= rise((sinceStart + 0.5) / this.fadeIn);
          if (beforeEnd < this.fadeOut) channel[i] *= rise((beforeEnd + 0.5) / this.fadeOut);
          if (sinceStart < headFill - headAlone) channel[i] += this.headFill[c][headAlone + sinceStart];
          if (frame >= tailSeamStart && tailFill) channel[i] += this.tailFill[c][frame - tailSeamStart];
        }
      });
      yield block;
    }
    if (tailFill > seamFrames) yield this.tailFill.map((channel) => channel.slice(seamFrames));
  }
}

/** Equal power: the squares of a rise and of its mirror image add up to one. */
const rise = (share: number): number => Math.sin((Math.PI / 2) * share);

function faded(block: Block, seam: number, where: 'start' | 'end'): Block {
  for (const channel of block) {
    for (let i = 0; i < Math.min(seam, channel.length); i++) {
      const at = where === 'start' ? i : channel.length - 1 - i;
      channel[at] *= rise((i + 0.5) / seam);
    }
  }
  return block;
}
