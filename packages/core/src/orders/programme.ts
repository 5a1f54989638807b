import type { ConfiguredStep } from '../chain/chain-file.ts';
import { type RunSurroundings, runChain, type Spool, type StepReport } from '../chain/run.ts';
import { type SpanOfSeconds, SpeechEdgeMeter, speechEdgesOf } from '../measure/activity/speech-edges.ts';
import { changeLayout } from '../signal/change-layout.ts';
import { dbToGain } from '../signal/decibels.ts';
import { FrameReader } from '../signal/frame-reader.ts';
import { type Block, emptyBlock, framesOf, type SignalFormat, type Sink, type Source } from '../signal/signal.ts';
import { type GainLine, givingWayLine, joinedSpans, LineGain } from './giving-way.ts';
import { stepsOf } from './order-faults.ts';
import type { OrderFile, OrderPart } from './order-file.ts';
import { type PartSound, placedPart } from './part-source.ts';
import type { PlacedPart, ResolvedOrder } from './resolve-order.ts';

/**
 * The mixer: parts into the sums of their groups, those through their chains, groups that give way under others, all into one. It streams;
 * of each part that sounds, and of each group, one block lies in memory.
 */

/** What a part brings to its group, besides where it lies. */
export interface ProgrammePart extends PartSound {
  /** That brings it to its level. */
  levelDb: number;
}

export interface Programme {
  source: Source;
  /** What the chains of the groups did, by group. */
  reports: Record<string, StepReport[]>;
  /** The way in which each group that gives way goes down, by group. */
  lines: Record<string, GainLine[]>;
}

const BLOCK_FRAMES = 8192;

/** @param order with its chains as files; @param parts by their ids; @param surroundings whose spools are needed for as long as the source */
export async function buildProgramme(
  order: OrderFile,
  resolved: ResolvedOrder,
  parts: ReadonlyMap<string, ProgrammePart>,
  surroundings: RunSurroundings,
): Promise<Programme> {
  const format: SignalFormat = { sampleRateHz: resolved.sampleRateHz, channels: order.channels };
  const reports: Programme['reports'] = {};
  const speech = new Map<string, SpanOfSeconds[]>();
  const isHeeded = (id: string) => order.under.some(({ of }) => of.includes(id));
  const sums: { id: string; source: Source; gainDb: number }[] = [];
  for (const { id, chain, gainDb } of order.groups) {
    const own = resolved.parts.filter(({ part }) => part.group === id);
    if (!own.length) continue;
    const sum = summed(
      own.map((placed) => placedTrack(placed, parts.get(placed.part.id)!, format)),
      format,
    );
    const made = await throughChain(sum, stepsOf(chain), isHeeded(id), surroundings);
    reports[id] = made.reports;
    if (made.speech) speech.set(id, made.speech);
    sums.push({ id, source: made.source, gainDb });
  }
  const linesOf = (id: string): GainLine[] =>
    order.under
      .filter(({ group }) => group === id)
      .map((under) => givingWayLine(joinedSpans(under.of.flatMap((other) => speech.get(other) ?? [])), under));
  const lines = Object.fromEntries(sums.map(({ id }) => [id, linesOf(id)] as const).filter(([, own]) => own.length));
  const tracks = sums.map(
    ({ id, source, gainDb }): Track => ({
      source,
      start: 0,
      gains: Array.from({ length: format.channels }, () => dbToGain(gainDb)),
      lines: lines[id] ?? [],
    }),
  );
  return { source: summed(tracks, format), reports, lines };
}

/** A group's sum behind its chain, and where somebody speaks in it. */
async function throughChain(
  sum: Source,
  chain: readonly ConfiguredStep[],
  heeded: boolean,
  surroundings: RunSurroundings,
): Promise<{ source: Source; reports: StepReport[]; speech?: SpanOfSeconds[] }> {
  const { signal, openSpool } = surroundings;
  if (!chain.length)
    return { source: sum, reports: [], ...(heeded && { speech: (await speechEdgesOf(inOne(sum), signal)).speech }) };
  let spool: Spool | undefined;
  let meter: SpeechEdgeMeter | undefined;
  const openSink = async (format: SignalFormat): Promise<Sink> => {
    const own = await openSpool(format);
    spool = own;
    if (!heeded) return own;
    const hears = new SpeechEdgeMeter({ ...format, channels: 1, speakers: undefined });
    meter = hears;
    return {
      write: (block) => {
        hears.hear(changeLayout(block, format, 1));
        return own.write(block);
      },
    };
  };
  const reports = await runChain(chain, sum, openSink, surroundings);
  return { source: spool!, reports, ...(meter && { speech: meter.conclude().speech }) };
}

/** Where somebody speaks is heard in one channel as well as in two, at half the work. */
const inOne = (source: Source): Source => ({
  format: { sampleRateHz: source.format.sampleRateHz, channels: 1 },
  async *blocks(options) {
    for await (const block of source.blocks(options)) yield changeLayout(block, source.format, 1);
  },
});

/** Something that begins somewhere in a sum. */
interface Track {
  source: Source;
  /** Frame of the sum. */
  start: number;
  /** For each channel of the sum. */
  gains: readonly number[];
  /** Of the sum's time. */
  lines: readonly GainLine[];
}

function placedTrack(placed: PlacedPart, sound: ProgrammePart, format: SignalFormat): Track {
  const gain = dbToGain(placed.part.gainDb + sound.levelDb);
  const sides = sidesOf(placed.part, sound.source.format, format);
  return {
    source: placedPart(sound, placed),
    start: placed.start,
    gains: sides.map((side) => gain * side),
    lines: [],
  };
}

/** One channel between two: left cos, right sin of (pan + 1) x 45 degrees, so that it is as loud anywhere. */
function sidesOf({ pan }: OrderPart, { channels }: SignalFormat, into: SignalFormat): number[] {
  if (channels !== 1 || into.channels !== 2) return Array.from({ length: into.channels }, () => 1);
  const angle = ((pan + 1) * Math.PI) / 4;
  return [Math.cos(angle), Math.sin(angle)];
}

/** A sum that can be read again. What comes to it in another layout is laid out. */
function summed(tracks: readonly Track[], format: SignalFormat): Source {
  return {
    format,
    async *blocks({ signal } = {}) {
      const coming = [...tracks].sort((a, b) => a.start - b.start).map((track) => new RunningTrack(track, format));
      const sounding = new Set<RunningTrack>();
      // lent until the next one is asked for
      const block = emptyBlock(format.channels, BLOCK_FRAMES);
      try {
        for (let at = 0; coming.length || sounding.size; ) {
          signal?.throwIfAborted();
          for (const channel of block) channel.fill(0);
          while (coming.length && coming[0].start < at + BLOCK_FRAMES) sounding.add(coming.shift()!);
          let end = coming.length ? BLOCK_FRAMES : 0;
          for (const track of sounding) {
            const to = await track.addTo(block, at);
            if (to < BLOCK_FRAMES) sounding.delete(track);
            end = Math.max(end, to);
          }
          at += BLOCK_FRAMES;
          if (end > 0) yield end === BLOCK_FRAMES ? block : block.map((channel) => channel.subarray(0, end));
        }
      } finally {
        for (const track of sounding) await track.close();
      }
    },
  };
}

/** A track that is being added to a sum, in order. */
class RunningTrack {
  readonly start: number;
  private readonly reader: FrameReader;
  private readonly lines: readonly LineGain[];

  constructor(
    private readonly track: Track,
    private readonly into: SignalFormat,
  ) {
    this.start = track.start;
    this.reader = new FrameReader(track.source);
    this.lines = track.lines.map((line) => new LineGain(line, into.sampleRateHz));
  }

  /** Adds what of it lies in a block that begins at a frame of the sum. @returns to which frame of the block it sounds: less than all at its end */
  async addTo(block: Block, at: number): Promise<number> {
    const from = Math.max(0, this.start - at);
    const heard = await this.reader.read(framesOf(block) - from);
    const frames = framesOf(heard);
    const laidOut = changeLayout(heard, this.track.source.format, this.into.channels);
    const moving = this.lines.length ? new Float32Array(frames).fill(1) : undefined;
    for (const line of this.lines) line.applyTo(moving!, at + from);
    laidOut.forEach((channel, c) => {
      const into = block[c];
      const gain = this.track.gains[c];
      if (moving) for (let i = 0; i < frames; i++) into[from + i] += gain * moving[i] * channel[i];
      else for (let i = 0; i < frames; i++) into[from + i] += gain * channel[i];
    });
    return frames ? from + frames : 0;
  }

  close(): Promise<void> {
    return this.reader.close();
  }
}
