import type { ConfiguredStep } from '../chain/chain-file.ts';
import { type RunSurroundings, runChain, type Spool, type StepReport } from '../chain/run.ts';
import { type SpanOfSeconds, SpeechEdgeMeter, speechEdgesOf } from '../measure/activity/speech-edges.ts';
import { changeLayout } from '../signal/change-layout.ts';
import { heardOnce } from '../signal/heard-once.ts';
import type { Block, SignalFormat, Sink, Source } from '../signal/signal.ts';
import { type GainLine, givingWayLines } from './giving-way.ts';
import { groupTrack, partTrack, summed } from './mixer.ts';
import { stepsOf } from './order-faults.ts';
import type { OrderFile } from './order-file.ts';
import type { PartSound } from './part-source.ts';
import type { ResolvedOrder } from './resolve-order.ts';

/**
 * A programme: parts into the sums of their groups, those through their chains, groups that give way under others, all into one. It streams;
 * of each part that sounds, and of each group, one block lies in memory.
 */

/** What a part brings to its group, besides where it lies. */
export interface ProgrammePart {
  sound: PartSound;
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

/** Who hears the groups, each block once. */
export interface GroupListeners {
  /** The sum of a group as it comes to its chain, where it has one. */
  before?(group: string, block: Block, sampleRateHz: number): void;
  /** What a step of its chain makes of it. */
  step?(group: string, stepId: string, block: Block, sampleRateHz: number): void;
  /** Behind its chain, before its gain: when the programme is first read. */
  behind?(group: string, block: Block, sampleRateHz: number): void;
}

/**
 * @param order with its chains as files; @param parts by their ids; @param surroundings whose spools are needed for as long as the source
 */
export async function buildProgramme(
  order: OrderFile,
  resolved: ResolvedOrder,
  parts: ReadonlyMap<string, ProgrammePart>,
  surroundings: RunSurroundings,
  listeners: GroupListeners = {},
): Promise<Programme> {
  const format: SignalFormat = { sampleRateHz: resolved.sampleRateHz, channels: order.channels };
  const reports: Programme['reports'] = {};
  const speech = new Map<string, SpanOfSeconds[]>();
  const isHeeded = (id: string) => order.under.some(({ of }) => of.includes(id));
  const sums: { id: string; source: Source; gainDb: number }[] = [];
  for (const { id, chain, gainDb } of order.groups) {
    const own = resolved.parts.filter(({ part }) => part.group === id);
    if (!own.length) continue;
    const tracks = own.map((placed) => {
      const { sound, levelDb } = parts.get(placed.part.id)!;
      return partTrack(placed, sound, levelDb, format);
    });
    const steps = stepsOf(chain);
    const sum = heardOnce(summed(tracks, format), (block) => {
      if (steps.length) listeners.before?.(id, block, format.sampleRateHz);
    });
    const made = await throughChain(sum, steps, isHeeded(id), {
      ...surroundings,
      heard: (stepId, block) => listeners.step?.(id, stepId, block, format.sampleRateHz),
    });
    reports[id] = made.reports;
    if (made.speech) speech.set(id, made.speech);
    sums.push({
      id,
      source: heardOnce(made.source, (block) => listeners.behind?.(id, block, format.sampleRateHz)),
      gainDb,
    });
  }
  const lines = givingWayLines(order.under, speech);
  const tracks = sums.map(({ id, source, gainDb }) => groupTrack(source, gainDb, lines[id] ?? [], format));
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
