import { type FadeOver, fittedFades } from '../dsp/fades.ts';
import { type OrderFault, ofPart, orderFaults, refuse } from './order-faults.ts';
import { type OrderFile, type OrderPart, partName } from './order-file.ts';

/**
 * Where the parts of an order lie, to the frame, once it is known how long each is. Nothing hangs on the order of the rows: each begin and
 * end is found from those that it hangs on.
 */

/** What an order must know of a part's sound: its stretch, through its cuts and its own chain. */
export interface KnownPart {
  frames: number;
  channels: number;
  /** In its own time. */
  marks: readonly { name: string; frame: number }[];
}

/** Where a part is opened for another one, in its own time. */
export interface Opening {
  at: number;
  frames: number;
  /** The part that plays there. */
  part: string;
}

export interface PlacedPart {
  part: OrderPart;
  /** Of the programme; the end is the frame behind the last. */
  start: number;
  end: number;
  /** How long its sound is, before it is cut, repeated or opened. */
  ownFrames: number;
  /** In the order of their places. */
  openings: readonly Opening[];
  fadeIn: FadeOver;
  fadeOut: FadeOver;
}

export interface ResolvedOrder {
  sampleRateHz: number;
  frames: number;
  /** In the order of the rows. */
  parts: readonly PlacedPart[];
}

const LONGEST_JOIN_SECONDS = 0.5;
const SHORTEST_JOIN_SECONDS = 0.02;

/** Over how many frames a repeated part is joined to itself: a quarter of it, between 20 and 500 ms. */
export const joinFramesOf = (frames: number, sampleRateHz: number): number =>
  Math.round(Math.min(LONGEST_JOIN_SECONDS * sampleRateHz, frames / 4));

/** @param known by part; @throws InvalidOrderError that names part and field of every fault */
export function resolveOrder(
  order: OrderFile,
  known: ReadonlyMap<string, KnownPart>,
  sampleRateHz: number,
): ResolvedOrder {
  refuse(orderFaults(order));
  const resolver = new Resolver(order, known, sampleRateHz);
  const parts = order.parts.map((part) => resolver.placed(part));
  refuse(resolver.faults);
  return {
    sampleRateHz,
    frames: parts.reduce((most, { end }) => Math.max(most, end), 0),
    parts: withCrossfades(parts),
  };
}

/** Begins and ends are found when they are first asked for. There are no circles: that was looked at before. */
class Resolver {
  readonly faults: OrderFault[] = [];
  private readonly byId: ReadonlyMap<string, OrderPart>;
  private readonly starts = new Map<string, number>();
  private readonly lengths = new Map<string, number>();
  private readonly opened = new Map<string, readonly Opening[]>();

  constructor(
    private readonly order: OrderFile,
    private readonly known: ReadonlyMap<string, KnownPart>,
    private readonly sampleRateHz: number,
  ) {
    this.byId = new Map(order.parts.map((part) => [part.id, part]));
  }

  placed(part: OrderPart): PlacedPart {
    const start = this.startOf(part);
    const frames = this.lengthOf(part);
    const over = (seconds: number): FadeOver => ({ frames: this.inFrames(seconds), shape: part.shape });
    const [fadeIn, fadeOut] = fittedFades(over(part.fadeInSeconds), over(part.fadeOutSeconds), frames);
    if (start < 0) {
      const before = (-start / this.sampleRateHz).toFixed(3);
      this.fault(part, fieldOf(part), `it would begin ${before} s before the programme.`);
    }
    if (part.pan && this.knownOf(part).channels !== 1) {
      const has = this.knownOf(part).channels;
      this.fault(part, 'pan', `only a part of one channel can be placed to a side; this one has ${has}.`);
    }
    return {
      part,
      start,
      end: start + frames,
      ownFrames: this.knownOf(part).frames,
      openings: this.openingsOf(part),
      fadeIn,
      fadeOut,
    };
  }

  private startOf(part: OrderPart): number {
    const found = this.starts.get(part.id);
    if (found !== undefined) return found;
    const { begins } = part;
    let start: number;
    if ('into' in begins) {
      const host = this.byId.get(begins.into)!;
      const openings = this.openingsOf(host);
      const own = openings.findIndex((opening) => opening.part === part.id);
      const before = openings.slice(0, own).reduce((sum, { frames }) => sum + frames, 0);
      start = this.startOf(host) + (openings[own]?.at ?? 0) + before;
    } else if ('with' in begins)
      start = this.startOf(this.byId.get(begins.with)!) + this.inFrames(begins.offsetSeconds);
    else {
      const after = begins.after === null ? 0 : this.endOf(this.byId.get(begins.after)!);
      start = after + this.inFrames(begins.gapSeconds);
    }
    this.starts.set(part.id, start);
    return start;
  }

  private endOf = (part: OrderPart): number => this.startOf(part) + this.lengthOf(part);

  private lengthOf(part: OrderPart): number {
    const found = this.lengths.get(part.id);
    if (found !== undefined) return found;
    const { frames } = this.knownOf(part);
    const length = part.lasts
      ? this.lastingFrames(part, part.lasts, frames)
      : this.openingsOf(part).reduce((sum, opening) => sum + opening.frames, frames);
    this.lengths.set(part.id, length);
    return length;
  }

  private lastingFrames(part: OrderPart, lasts: NonNullable<OrderPart['lasts']>, frames: number): number {
    const until =
      'untilEndOf' in lasts
        ? this.endOf(this.byId.get(lasts.untilEndOf)!)
        : this.startOf(this.byId.get(lasts.untilBeginOf)!);
    const wanted = until + this.inFrames(lasts.offsetSeconds) - this.startOf(part);
    if (wanted <= 0) {
      this.fault(part, 'lasts', `it would end ${(-wanted / this.sampleRateHz).toFixed(3)} s before it begins.`);
      return 0;
    }
    if (!lasts.loop || wanted <= frames) return Math.min(wanted, frames);
    if (joinFramesOf(frames, this.sampleRateHz) < SHORTEST_JOIN_SECONDS * this.sampleRateHz) {
      const has = ((1000 * frames) / this.sampleRateHz).toFixed(0);
      this.fault(part, 'lasts.loop', `it is ${has} ms long: too short to be repeated without a seam (80 ms).`);
      return frames;
    }
    return wanted;
  }

  /** Where a part is opened, in order; marks that it lacks are faults of those that want them. */
  private openingsOf(host: OrderPart): readonly Opening[] {
    const found = this.opened.get(host.id);
    if (found) return found;
    const { marks, frames } = this.knownOf(host);
    const openings = this.order.parts.flatMap((part): Opening[] => {
      const { begins } = part;
      if (!('into' in begins) || begins.into !== host.id) return [];
      const mark = marks.find(({ name }) => name === begins.mark);
      if (!mark || mark.frame < 0 || mark.frame > frames) {
        const there = marks.map(({ name }) => `"${name}"`).join(', ');
        const has = there ? `It has ${there}.` : 'It has no marks.';
        this.fault(part, 'begins.mark', `"${partName(host)}" has no mark "${begins.mark}". ${has}`);
        return [];
      }
      return [{ at: mark.frame, frames: this.lengthOf(part), part: part.id }];
    });
    // at one moment, by their marks' names: not by their rows
    const markOf = (opening: Opening) => (this.byId.get(opening.part)!.begins as { mark: string }).mark;
    openings.sort((a, b) => a.at - b.at || (markOf(a) < markOf(b) ? -1 : 1));
    this.opened.set(host.id, openings);
    return openings;
  }

  private knownOf = (part: OrderPart): KnownPart => this.known.get(part.id)!;

  private inFrames = (seconds: number): number => Math.round(seconds * this.sampleRateHz);

  private fault(part: OrderPart, field: string, message: string): void {
    if (!this.faults.some((one) => one.where === ofPart(part) && one.field === field))
      this.faults.push({ where: ofPart(part), field, message });
  }
}

function fieldOf({ begins }: OrderPart): string {
  if ('after' in begins) return 'begins.gapSeconds';
  return 'with' in begins ? 'begins.offsetSeconds' : 'begins.into';
}

/** Where a part begins over the end of the one that it follows and neither says how it fades, one goes over into the other at equal power. */
function withCrossfades(parts: readonly PlacedPart[]): PlacedPart[] {
  const fades = new Map(parts.map(({ part, fadeIn, fadeOut }) => [part.id, { fadeIn, fadeOut }]));
  for (const { part, start, end } of parts) {
    if (!('after' in part.begins) || part.begins.after === null) continue;
    const { after } = part.begins;
    const before = parts.find((one) => one.part.id === after)!;
    const overlap = before.end - start;
    // one that is over before the other ends is only added to it
    if (overlap <= 0 || end <= before.end || part.fadeInSeconds > 0 || before.part.fadeOutSeconds > 0) continue;
    const over = (frames: number): FadeOver => ({ frames, shape: 'equal-power' });
    fades.get(part.id)!.fadeIn = over(overlap);
    const out = fades.get(after)!;
    out.fadeOut = over(Math.max(out.fadeOut.frames, Math.min(overlap, before.end - before.start)));
  }
  return parts.map((placed) => ({ ...placed, ...fades.get(placed.part.id)! }));
}
